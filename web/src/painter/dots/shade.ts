/**
 * How crowded points are shaded, so that places where they hide each other still tell how many there are. The server
 * says how in core/primitive/shade.go; contract/shade.json holds both equal.
 */
import type { View } from '../geometry'
import type { Points, Sheet } from './sheet'
import { ONE } from './stamps'

const CELL = 4
const FROM = 3
const MOST = 0.6
const RANGE = 10
const MOST_OPAQUE = 0.98

/** Numbers are rounded to 32 bits as the kernel does. */
const f = Math.fround

/** The cells that a sheet is shaded by: of the whole panel, and how places become cells. */
export interface Cells {
  columns: number
  rows: number
  scaleX: number
  scaleY: number
}

/** What a point of a radius and an opacity adds to the depth of its cell. */
export const paintOf = (radius: number, opacity: number): number =>
  ((-Math.log(1 - Math.min(opacity, MOST_OPAQUE)) * Math.PI) / (CELL * CELL)) * radius * radius

/** The cells of a view of a panel of a size in pixels of the page. */
export function cellsOf(view: View, width: number, height: number): Cells {
  return {
    columns: Math.max(1, Math.ceil(width / CELL)),
    rows: Math.max(1, Math.ceil(height / CELL)),
    scaleX: width / (view.u1 - view.u0) / CELL,
    scaleY: height / (view.v1 - view.v0) / CELL,
  }
}

/** The shades of points, each with the paint of its kind: of each cell from 0 to MOST, row by row from the top; null where none is as deep. */
export function shadesOf(
  { count, x, y, stamp }: Pick<Points, 'count' | 'x' | 'y' | 'stamp'>,
  paint: ArrayLike<number>,
  view: View,
  { columns, rows, scaleX, scaleY }: Cells,
): Float32Array | null {
  const depths = new Float32Array(columns * rows)
  for (let i = 0; i < count; i++) {
    const column = Math.floor((x[i] - view.u0) * scaleX)
    const row = Math.floor((y[i] - view.v1) * -scaleY)
    if (column >= 0 && row >= 0 && column < columns && row < rows) depths[row * columns + column] += paint[stamp[i]]
  }
  const means = new Float32Array(columns * rows)
  return shadesOfMeans(means, soften(depths, columns, rows, means))
}

/** The mean of each cell and those about it; gives the largest. */
function soften(depths: Float32Array, columns: number, rows: number, means: Float32Array): number {
  let deepest = 0
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [upper, lower] = [Math.max(row - 1, 0), Math.min(row + 1, rows - 1)]
      const [left, right] = [Math.max(column - 1, 0), Math.min(column + 1, columns - 1)]
      let sum = 0
      for (let r = upper; r <= lower; r++) for (let c = left; c <= right; c++) sum = f(sum + depths[r * columns + c])
      const mean = f(sum / ((lower - upper + 1) * (right - left + 1)))
      means[row * columns + column] = mean
      deepest = Math.max(deepest, mean)
    }
  return deepest
}

/** Turns means into shades, in their place; null where none is as deep. */
export function shadesOfMeans(means: Float32Array, deepest: number): Float32Array | null {
  if (!(deepest > FROM)) return null
  const whole = MOST / Math.log(Math.max(deepest / FROM, RANGE))
  for (let i = 0; i < means.length; i++) means[i] = means[i] > FROM ? Math.log(means[i] / FROM) * whole : 0
  return means
}

/** Shades as they are painted with. */
export function inks(shades: Float32Array): Int16Array {
  const out = new Int16Array(shades.length)
  for (let i = 0; i < out.length; i++) out[i] = Math.round(shades[i] * ONE)
  return out
}

/** Of each of some pixels, from the first on, the cell before its middle and, in fifteen bits, how far beyond that one's middle it lies. */
export function mixes(count: number, first: number, pixels: number, cells: number, page: number): Int32Array {
  const out = new Int32Array(count)
  const a = page / pixels / CELL // cells a pixel
  for (let i = 0; i < count; i++) {
    const at = Math.min(Math.max((first + i + 0.5) * a - 0.5, 0), cells - 1)
    out[i] = (Math.floor(at) << 15) | Math.floor((at % 1) * ONE)
  }
  return out
}

/** Where each row and each column of pixels of a sheet lies among its cells. */
export const placesOf = ({ width, height, top, rows, shade }: Sheet, cells: Cells) => ({
  across: mixes(width, 0, width, cells.columns, shade!.width),
  down: mixes(rows, top, height, cells.rows, shade!.height),
})
