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

/** What a worker painted: four bytes a pixel. */
export type Band = Uint8ClampedArray<ArrayBuffer>

const kernel = Kernel.make()
const held = new Map<number, Points>()

self.onmessage = ({ data }: MessageEvent<Order>) => {
  if (data.forget !== undefined) held.delete(data.forget)
  if (data.points) held.set(data.number, data.points)
  const { sheet } = data
  if (!sheet) return
  const points = held.get(data.number)!
  const band: Band = kernel ? kernel.paint(points, sheet).slice() : paintScalar(points, sheet)
  self.postMessage(band, { transfer: [band.buffer] })
}
