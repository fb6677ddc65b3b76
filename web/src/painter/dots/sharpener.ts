/** When the sharp pictures of a chart are painted: while a hand moves now and then one of them, when it rests all. */
import type { Hands } from './hands'
import type { Points, Sheet } from './sheet'
import type { Band } from './worker'

/** How long a hand rests before what it moved is painted where there is no crew, in milliseconds. */
const REST = 120
/** How long a hand rests before the crew paints, and after how long it does so although the hand moves. */
const PAUSE = 30
const PATIENCE = 500

/** A sharp picture that is asked for. */
export interface SharpOrder {
  sheet: Sheet
  /** The points to be painted; null where the picture is wanted no more. */
  points: () => Points | null
  /** Takes what was painted. */
  take: (bands: Band[]) => void
  /** Lets the next paint of the page do it: there is no crew. */
  leave: () => void
}

export class Sharpener<Of> {
  private readonly waiting = new Map<Of, SharpOrder>()
  private busy = false
  private rested = true
  private sharpened = 0
  private resting: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly hands: Hands) {}

  /** Asks for a sharp picture; what was asked of the same before is asked no more. */
  ask(of: Of, order: SharpOrder): void {
    this.waiting.set(of, order)
    clearTimeout(this.resting)
    if (!this.hands.crew) {
      this.resting = setTimeout(() => this.leaveAll(), REST)
      return
    }
    if (this.rested) this.sharpened = performance.now() // a hand begins to move
    this.rested = false
    this.resting = setTimeout(() => {
      this.rested = true
      void this.work()
    }, PAUSE)
    if (performance.now() - this.sharpened > PATIENCE) void this.work()
  }

  private leaveAll(): void {
    const orders = [...this.waiting.values()]
    this.waiting.clear()
    for (const order of orders) order.leave()
  }

  private next(): SharpOrder | undefined {
    const [first] = this.waiting
    if (first) this.waiting.delete(first[0])
    return first?.[1]
  }

  /** Paints what waits: while a hand moves one picture, by one worker; when it rests, all of them by all. */
  private async work(): Promise<void> {
    const { crew } = this.hands
    if (this.busy || !crew) return
    this.busy = true
    const moving = !this.rested
    try {
      for (let order = this.next(); order; order = !moving && this.rested ? this.next() : undefined) {
        const points = order.points()
        if (!points) continue
        const bands = await crew.paint(points, order.sheet, moving)
        this.sharpened = performance.now()
        order.take(bands)
      }
    } catch {
      this.hands.lose()
      for (const [of, order] of [...this.waiting]) this.ask(of, order)
    } finally {
      this.busy = false
      if (this.rested && this.waiting.size > 0) void this.work()
    }
  }
}
