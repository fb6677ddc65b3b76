/** Workers that paint sheets beside the page, a band of rows each, so that the hand never waits. */
import { TILE } from './scalar'
import type { Points, Sheet } from './sheet'
import type { Band, Order } from './worker'

const WORKERS = 2
/** How many sets of points the workers hold at once. */
const HELD = 12

export class Crew {
  private readonly numbers = new Map<Points, number>()
  private next = 0

  private constructor(private readonly workers: Worker[]) {}

  /** The crew; null where workers are refused. */
  static make(): Crew | null {
    try {
      return new Crew(Array.from({ length: WORKERS }, () => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })))
    } catch {
      return null
    }
  }

  /** Sends points ahead, so that the first picture that is asked for does not wait for it. */
  load(points: Points): number {
    const known = this.numbers.get(points)
    if (known !== undefined) return known
    const number = this.next++
    this.numbers.set(points, number)
    const [oldest] = this.numbers
    const forget = this.numbers.size > HELD ? oldest[1] : undefined
    if (forget !== undefined) this.numbers.delete(oldest[0])
    for (const worker of this.workers) worker.postMessage({ number, points, forget } satisfies Order)
    return number
  }

  /** Paints a whole sheet; one after the other. It fails where a worker does. Alone: by one worker, so that a hand that moves has the rest of the machine. */
  async paint(points: Points, sheet: Sheet, alone = false): Promise<Band[]> {
    const number = this.load(points)
    const workers = alone ? this.workers.slice(0, 1) : this.workers
    const rows = TILE * Math.ceil(sheet.height / workers.length / TILE) // bands of whole tiles are cut from the whole
    return Promise.all(
      workers.map((worker, i) => {
        const top = Math.min(sheet.height, i * rows)
        const order: Order = { number, sheet: { ...sheet, top, rows: Math.min(rows, sheet.height - top) } }
        return new Promise<Band>((done, failed) => {
          worker.onmessage = ({ data }) => done(data)
          worker.onerror = failed
          worker.postMessage(order)
        })
      }),
    )
  }
}
