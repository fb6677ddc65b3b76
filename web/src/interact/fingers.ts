/** Fingers on a chart: one moves it, two zoom it. */
export interface Pinch {
  /** How much closer together the fingers are than before: above 1 zooms out. */
  factor: number
  /** Where their middle is now, and how far it moved. */
  x: number
  y: number
  dx: number
  dy: number
}

export class Fingers {
  private readonly at = new Map<number, [number, number]>()

  get count(): number {
    return this.at.size
  }

  down(id: number, x: number, y: number): void {
    this.at.set(id, [x, y])
  }

  up(id: number): void {
    this.at.delete(id)
  }

  /** Takes a finger elsewhere; tells what two of them do. */
  move(id: number, x: number, y: number): Pinch | null {
    if (!this.at.has(id)) return null
    const [ax, ay, apart] = this.middle()
    this.at.set(id, [x, y])
    if (this.at.size !== 2) return null
    const [bx, by, now] = this.middle()
    return { factor: apart / now, x: bx, y: by, dx: bx - ax, dy: by - ay }
  }

  private middle(): [number, number, number] {
    const [a, b = a] = this.at.values()
    return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, Math.max(10, Math.hypot(a[0] - b[0], a[1] - b[1]))]
  }
}
