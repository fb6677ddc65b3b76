/** Which vertices of a long line are seen: of those in a column of pixels its first and last, highest and lowest. */
import type { Layer } from '../../figure/figure'
import { toX, toY, type Frame } from '../geometry'

/** Up to this many vertices all are painted. */
export const THIN_ABOVE = 2000

/** Calls run for every stretch of vertices that stand in one column of pixels, from one to the last; what lies beside the frame is one column on each side. */
function stretches(
  layer: Layer,
  f: Frame,
  from: number,
  to: number,
  pixelRatio: number,
  run: (from: number, last: number, column: number) => void,
): void {
  const x = layer.x!
  const scale = (f.width / (f.view.u1 - f.view.u0)) * pixelRatio
  const base = f.left * pixelRatio - f.view.u0 * scale
  const [low, high] = [(f.left - 2) * pixelRatio, (f.left + f.width + 2) * pixelRatio]
  const columnOf = (k: number) => {
    const at = x[k] * scale + base
    return Math.floor(at < low ? low : at > high ? high : at)
  }
  if (from >= to) return
  let [first, column] = [from, columnOf(from)]
  for (let k = from + 1; k < to; k++) {
    const next = columnOf(k)
    if (next === column) continue
    run(first, k - 1, column)
    first = k
    column = next
  }
  run(first, to - 1, column)
}

/** The vertices from one to before another, in their order, that touch the pixels that all would touch. */
export function seen(layer: Layer, f: Frame, from: number, to: number, pixelRatio: number): number[] {
  if (to - from <= THIN_ABOVE) return Array.from({ length: to - from }, (_, i) => from + i)
  const kept: number[] = []
  const y = layer.y!
  stretches(layer, f, from, to, pixelRatio, (first, last) => {
    let [low, high] = [first, first]
    for (let i = first + 1; i <= last; i++) {
      if (y[i] < y[low]) low = i
      if (y[i] > y[high]) high = i
    }
    const marks = [first, Math.min(low, high), Math.max(low, high), last]
    marks.forEach((k, i) => (i === 0 || k !== marks[i - 1]) && kept.push(k))
  })
  return kept
}

/** From how many vertices in a column of pixels on a line is a solid stretch there. */
const SOLID = 4

/** The columns of pixels of a line, or of an area, that is so dense that it fills them: where each begins, and from where to where it is filled; null for one that is not. */
export function solid(
  layer: Layer,
  f: Frame,
  from: number,
  to: number,
  pixelRatio: number,
): { x: number; top: number; bottom: number }[] | null {
  if (to - from < SOLID * f.width * pixelRatio) return null
  const columns: { x: number; top: number; bottom: number }[] = []
  let vertices = 0
  const y = layer.y!
  const y2 = layer.primitive === 'areas' ? layer.y2! : y
  stretches(layer, f, from, to, pixelRatio, (first, last, column) => {
    if (column < Math.floor(f.left * pixelRatio) || column > (f.left + f.width) * pixelRatio) return
    let [low, high] = [Infinity, -Infinity]
    for (let i = Math.max(first - 1, from); i <= last; i++) {
      // from the one before, which it is joined to
      const v = y[i]
      const w = y2[i]
      if (v < low) low = v
      if (v > high) high = v
      if (w < low) low = w
      if (w > high) high = w
    }
    vertices += last - first + 1
    columns.push({ x: column / pixelRatio, top: toY(f, high), bottom: toY(f, low) })
  })
  return vertices >= SOLID * columns.length ? columns : null
}

/** The upper and the lower edge of a long area, as places on the canvas: all that it covers in each column of pixels. */
export function covered(
  layer: Layer,
  f: Frame,
  from: number,
  to: number,
  pixelRatio: number,
): { x: number[]; top: number[]; bottom: number[] } {
  const out = { x: [] as number[], top: [] as number[], bottom: [] as number[] }
  const [y, y2] = [layer.y!, layer.y2!]
  stretches(layer, f, from, to, pixelRatio, (first, last) => {
    let [low, high] = [Infinity, -Infinity]
    for (let i = first; i <= last; i++) {
      low = Math.min(low, y[i], y2[i])
      high = Math.max(high, y[i], y2[i])
    }
    for (const k of first === last ? [first] : [first, last]) {
      out.x.push(toX(f, layer.x![k]))
      out.top.push(toY(f, high))
      out.bottom.push(toY(f, low))
    }
  })
  return out
}

/** Upright stretches of one entry's colour that many segments cover together: where each stands, begins and ends. */
export interface Stretches {
  entry: number
  at: { x: number; from: number; to: number }[]
}

/** Many upright segments, of which those of an entry in one column of pixels are one. */
export function gathered(layer: Layer, f: Frame, visible: (i: number) => boolean, pixelRatio: number): Stretches[] {
  const columns = Math.ceil(f.width * pixelRatio) + 4
  const scale = (f.width * pixelRatio) / (f.view.u1 - f.view.u0)
  const { x, y, y2, colour } = layer
  const found = new Map<number, { low: Float32Array; high: Float32Array }>()
  for (let i = 0; i < layer.count; i++) {
    const column = Math.floor((x![i] - f.view.u0) * scale) + 2
    if (!(column >= 0 && column < columns) || !visible(i)) continue
    const entry = colour ? colour[i] : 0
    let of = found.get(entry)
    if (!of) found.set(entry, (of = { low: new Float32Array(columns).fill(Infinity), high: new Float32Array(columns).fill(-Infinity) }))
    of.low[column] = Math.min(of.low[column], y![i], y2![i])
    of.high[column] = Math.max(of.high[column], y![i], y2![i])
  }
  return [...found].map(([entry, { low, high }]) => {
    const at: Stretches['at'] = []
    for (let c = 0; c < columns; c++)
      if (low[c] <= high[c]) at.push({ x: f.left + (c - 1.5) / pixelRatio, from: toY(f, high[c]), to: toY(f, low[c]) })
    return { entry, at }
  })
}
