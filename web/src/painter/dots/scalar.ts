/** Lays points on a sheet in TypeScript: the twin of kernel/dots.ts, which says how. */
import { cellsOf, inks, placesOf, shadesOf } from './shade'
import { inked, scales, type Points, type Sheet } from './sheet'
import { ONE } from './stamps'

/** The side of a tile, and how many points are laid on one before it is looked at again. */
export const TILE = 16
const AGAIN = 16
const CLOSED = 295
/** Numbers are rounded to 32 bits as the kernel does. */
const f = Math.fround
/** The product of two numbers of which ONE is 1. */
const times = (a: number, b: number) => (a * b + 16384) >> 15

/** What still shines through each pixel, and red, green and blue so far. */
type Sums = [through: Int16Array, red: Int16Array, green: Int16Array, blue: Int16Array]

export function paintScalar(points: Points, sheet: Sheet): Uint8ClampedArray<ArrayBuffer> {
  const all = sheet.width * sheet.rows
  const sums: Sums = [new Int16Array(all).fill(ONE), new Int16Array(all), new Int16Array(all), new Int16Array(all)]
  lay(points, sheet, sums)
  if (sheet.shade) shadeCrowds(sums, points, sheet)
  return develop(sums)
}

function lay(points: Points, sheet: Sheet, sums: Sums): void {
  const { width, height, top, rows, view, stamps } = sheet
  const { scaleX, scaleY } = scales(sheet)
  const columns = Math.ceil(width / TILE)
  const tiles = new Int32Array(columns * Math.ceil(rows / TILE)).fill(AGAIN)
  const palette = inked(sheet.palette)
  for (let i = 0; i < points.count; i++) {
    const px = Math.floor((points.x[i] - view.u0) * scaleX + 0.5)
    const py = Math.floor((points.y[i] - view.v0) * -scaleY + (height - top + 0.5))
    const [half, begins, ends, lines] = stamps.about.subarray(4 * points.stamp[i])
    const [left, last] = [Math.max(0, px - half), Math.min(width - 1, px + half)]
    const [high, end] = [Math.max(0, py - half + begins), Math.min(rows, py - half + ends)]
    if (left > last || high >= end) continue
    for (let y0 = high; y0 < end; y0 = (y0 | 15) + 1) {
      const touched: number[] = []
      for (let tx = left >> 4; tx <= last >> 4; tx++) if (tiles[(y0 >> 4) * columns + tx]) touched.push((y0 >> 4) * columns + tx)
      if (touched.length === 0) continue
      for (let y = y0; y < Math.min(end, (y0 | 15) + 1); y++) {
        const [from, to, opacities] = stamps.rows.subarray(lines + 3 * (y - py + half))
        for (let x = Math.max(left, px - half + from); x < Math.min(last + 1, px - half + to); x++)
          layPixel(sums, y * width + x, stamps.opacities[opacities + x - px + half - from], palette, 4 * points.entry[i])
      }
      for (const tile of touched)
        if (--tiles[tile] === 0 && shines(sums[0], sheet, (tile % columns) * TILE, (y0 >> 4) * TILE)) tiles[tile] = AGAIN
    }
  }
}

function layPixel(sums: Sums, at: number, opacity: number, palette: Int16Array, colour: number): void {
  const part = times(sums[0][at], opacity)
  sums[0][at] -= part
  for (let k = 0; k < 3; k++) sums[k + 1][at] += times(part, palette[colour + k] ?? palette[k])
}

/** Whether anything shines through a tile. */
function shines(through: Int16Array, { width, rows }: Sheet, left: number, top: number): boolean {
  for (let y = top; y < Math.min(rows, top + TILE); y++)
    for (let x = left; x < Math.min(width, left + TILE); x++) if (through[y * width + x] >= CLOSED) return true
  return false
}

/** Lays ink over what is painted where it is crowded. */
function shadeCrowds(sums: Sums, points: Points, sheet: Sheet): void {
  const { width, rows, view } = sheet
  const shade = sheet.shade!
  const cells = cellsOf(view, shade.width, shade.height)
  const shades = shadesOf(points, shade.paint, view, cells)
  if (!shades) return
  const values = inks(shades)
  const { across, down } = placesOf(sheet, cells)
  const ink = inked([shade.ink])
  const mix = (a: number, b: number, share: number) => a + times(b - a, share)
  const at = (row: number, px: number) => {
    const [first, cell] = [Math.min(row, cells.rows - 1) * cells.columns, across[px] >> 15]
    return mix(values[first + cell], values[first + Math.min(cell + 1, cells.columns - 1)], across[px] & ONE)
  }
  for (let i = 0; i < width * rows; i++) {
    const [px, where] = [i % width, down[Math.floor(i / width)]]
    const value = mix(at(where >> 15, px), at((where >> 15) + 1, px), where & ONE)
    const over = times(ONE - sums[0][i], value)
    for (let k = 0; k < 3; k++) sums[k + 1][i] += times(over, ink[k]) - times(sums[k + 1][i], value)
  }
}

function develop([through, ...colours]: Sums): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(4 * through.length)
  for (let i = 0; i < through.length; i++) {
    const covered = ONE - through[i]
    if (covered === 0) continue
    const share = f(255 / covered)
    colours.forEach((sums, k) => (out[4 * i + k] = Math.floor(f(f(sums[i] * share) + 0.5))))
    out[4 * i + 3] = through[i] < CLOSED ? 255 : Math.floor(f(f(covered * f(255 / ONE)) + 0.5))
  }
  return out
}
