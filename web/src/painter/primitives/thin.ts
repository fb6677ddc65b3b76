/** Which vertices of a long line are seen: of those in a column of pixels its first and last, highest and lowest. */
import type { Layer } from '../../api/figure'
import { toX, toY, type Frame } from '../geometry'

/** Up to this many vertices all are painted. */
export const THIN_ABOVE = 2000

/** In which column of pixels a vertex stands; what lies beside the frame is one column on each side. */
const columnOf = (layer: Layer, f: Frame, k: number, pixelRatio: number) => Math.floor(Math.min(Math.max(toX(f, layer.x![k]), f.left - 2), f.left + f.width + 2) * pixelRatio)

/** Calls run for every stretch of vertices that stand in one column of pixels: from one to the last. */
function stretches(layer: Layer, f: Frame, from: number, to: number, pixelRatio: number, run: (from: number, last: number) => void): void {
  for (let k = from; k < to; ) {
    const column = columnOf(layer, f, k, pixelRatio)
    let last = k
    while (last + 1 < to && columnOf(layer, f, last + 1, pixelRatio) === column) last++
    run(k, last)
    k = last + 1
  }
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

/** The columns of pixels of a line that is so dense that it fills them: where each begins, and from where to where it is filled; null for one that is not. */
export function solid(layer: Layer, f: Frame, from: number, to: number, pixelRatio: number): { x: number; top: number; bottom: number }[] | null {
  if (to - from < SOLID * f.width * pixelRatio) return null
  const columns: { x: number; top: number; bottom: number }[] = []
  let vertices = 0
  stretches(layer, f, from, to, pixelRatio, (first, last) => {
    const column = columnOf(layer, f, first, pixelRatio)
    if (column < Math.floor(f.left * pixelRatio) || column > (f.left + f.width) * pixelRatio) return
    let [low, high] = [Infinity, -Infinity]
    for (let i = Math.max(first - 1, from); i <= last; i++) { // from the one before, which it is joined to
      low = Math.min(low, layer.y![i])
      high = Math.max(high, layer.y![i])
    }
    vertices += last - first + 1
    columns.push({ x: column / pixelRatio, top: toY(f, high), bottom: toY(f, low) })
  })
  return vertices >= SOLID * columns.length ? columns : null
}

/** The upper and the lower edge of a long area, as places on the canvas: all that it covers in each column of pixels. */
export function covered(layer: Layer, f: Frame, from: number, to: number, pixelRatio: number): { x: number[]; top: number[]; bottom: number[] } {
  const out = { x: [] as number[], top: [] as number[], bottom: [] as number[] }
  stretches(layer, f, from, to, pixelRatio, (first, last) => {
    let [low, high] = [Infinity, -Infinity]
    for (let i = first; i <= last; i++) {
      low = Math.min(low, layer.y![i], layer.y2![i])
      high = Math.max(high, layer.y![i], layer.y2![i])
    }
    for (const k of first === last ? [first] : [first, last]) {
      out.x.push(toX(f, layer.x![k]))
      out.top.push(toY(f, high))
      out.bottom.push(toY(f, low))
    }
  })
  return out
}

/** An upright stretch that several upright segments of one colour cover. */
export interface Stretch {
  x: number
  from: number
  to: number
  colour: string
}

/** Many upright segments of which those of a column of pixels stand on one base, as what they cover together. */
export function gathered(segments: Iterable<[x: number, y: number, y2: number, colour: string]>, pixelRatio: number): Iterable<Stretch> {
  const columns = new Map<string, Stretch>()
  for (const [x, y, y2, colour] of segments) {
    const key = `${Math.floor(x * pixelRatio)} ${colour}`
    const one = columns.get(key)
    const [from, to] = y < y2 ? [y, y2] : [y2, y]
    if (!one) columns.set(key, { x, from, to, colour })
    else {
      one.from = Math.min(one.from, from)
      one.to = Math.max(one.to, to)
    }
  }
  return columns.values()
}
