/** Where the points of a layer lie, in a grid over its panel: what is near a place is found without looking at all of them. */
import type { Layer } from '../figure/figure'

/** How many cells lie along each side. */
const SIDE = 128
/** From how many points on a grid is worth its making. */
export const GRID_ABOVE = 20_000
/** How many points are put into it at a time. */
const STRETCH = 100_000

const clamped = (share: number) => (share >= 1 ? SIDE - 1 : share > 0 ? (share * SIDE) | 0 : 0)

export class PointGrid {
  /** The points, cell by cell, and where those of each cell begin. */
  private readonly points: Uint32Array
  private readonly starts = new Uint32Array(SIDE * SIDE + 1)

  constructor(count: number) {
    this.points = new Uint32Array(count)
  }

  /** Makes the grid of a layer, a stretch of points at a time, so that a page can do other things between. */
  static *make({ x, y, count }: Layer): Generator<undefined, PointGrid> {
    const grid = new PointGrid(count)
    const cells = new Uint16Array(count)
    for (let from = 0; from < count; from += STRETCH) {
      const to = Math.min(count, from + STRETCH)
      for (let i = from; i < to; i++) grid.starts[(cells[i] = clamped(y![i]) * SIDE + clamped(x![i])) + 1]++
      yield
    }
    for (let c = 0; c < SIDE * SIDE; c++) grid.starts[c + 1] += grid.starts[c]
    const next = grid.starts.slice()
    for (let from = 0; from < count; from += STRETCH) {
      const to = Math.min(count, from + STRETCH)
      for (let i = from; i < to; i++) grid.points[next[cells[i]]++] = i
      yield
    }
    return grid
  }

  /** Calls with each point that may lie in a rectangle; what lies beyond the panel counts to the cells at its edge. */
  within(u0: number, u1: number, v0: number, v1: number, see: (i: number) => void): void {
    for (let row = clamped(v0); row <= clamped(v1); row++) {
      const end = this.starts[row * SIDE + clamped(u1) + 1]
      for (let k = this.starts[row * SIDE + clamped(u0)]; k < end; k++) see(this.points[k])
    }
  }
}

const grids = new WeakMap<Layer, PointGrid>()

/** The grid of a layer; undefined until it was made. */
export const gridOf = (layer: Layer): PointGrid | undefined => grids.get(layer)

/** Makes the grids of layers of many points which have none yet, a little at a time. */
export function* makeGrids(layers: Layer[]): Generator<undefined, void> {
  for (const layer of layers)
    if (layer.primitive === 'points' && layer.count > GRID_ABOVE && !grids.has(layer)) grids.set(layer, yield* PointGrid.make(layer))
}
