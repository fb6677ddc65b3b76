/** Paints bands of sheets beside the page. */
import { Kernel } from './kernel'
import { paintScalar } from './scalar'
import type { Points, Sheet } from './sheet'

export interface Order {
  /** Which points: those that were sent under this number, or are sent now. */
  number: number
  points?: Points
  forget?: number
  /** What is painted of them now. */
  sheet?: Sheet
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
  self.postMessage(out, { transfer: [out.buffer] })
}
