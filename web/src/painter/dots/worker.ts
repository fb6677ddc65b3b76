/** Paints bands of sheets beside the page. */
import { Kernel } from './kernel'
import { paintScalar } from './scalar'
import { shadesOf, type Shades } from './shade'
import type { Points, Sheet } from './sheet'

export interface Order {
  /** Which points: those that were sent under this number, or are sent now. */
  number: number
  points?: Points
  forget?: number
  /** What is painted of them now. */
  sheet?: Sheet
}

/** What a worker painted; the first band brings the shades of the whole. */
export interface Band {
  pixels: Uint8ClampedArray
  shades: Shades | null
}

const kernel = Kernel.make()
const held = new Map<number, Points>()

self.onmessage = ({ data }: MessageEvent<Order>) => {
  if (data.forget !== undefined) held.delete(data.forget)
  if (data.points) held.set(data.number, data.points)
  const { sheet } = data
  if (!sheet) return
  const points = held.get(data.number)!
  const out = new Uint8ClampedArray(4 * sheet.width * sheet.rows)
  if (kernel) kernel.paint(points, sheet, out)
  else paintScalar(points, sheet, out)
  const shades = sheet.shade && sheet.top === 0 ? shadesOf(points, sheet.shade.paint, sheet.view, sheet.shade.width, sheet.shade.height) : null
  self.postMessage({ pixels: out, shades } satisfies Band, { transfer: [out.buffer] })
}
