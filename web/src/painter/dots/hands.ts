/** Who paints sheets: a kernel on the page, and workers beside it. Made when first asked for; one of each is enough for all charts of a page. */
import { Crew } from './crew'
import { Kernel } from './kernel'
import { paintScalar } from './scalar'
import type { Points, Sheet } from './sheet'
import type { Band } from './worker'

export class Hands {
  private kernel: Kernel | null | undefined
  private workers: Crew | null | undefined

  /** Paints a whole sheet at once. */
  paint(points: Points, sheet: Sheet): Band {
    if (this.kernel === undefined) this.kernel = Kernel.make()
    return this.kernel ? this.kernel.paint(points, sheet) : paintScalar(points, sheet)
  }

  /** The workers; null where they are refused. */
  get crew(): Crew | null {
    if (this.workers === undefined) this.workers = Crew.make()
    return this.workers
  }

  /** A worker that is refused later than it is made: from now on without. */
  lose(): void {
    this.workers = null
  }
}

export const hands = new Hands()
