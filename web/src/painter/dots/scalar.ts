/** Lays points on a sheet in TypeScript: the twin of kernel/dots.ts, which says how. */
import { scales, type Points, type Sheet } from './sheet'

const TILE = 4
const CLOSED = Math.fround(0.009)
/** Numbers are rounded to 32 bits as the kernel does. */
const f = Math.fround

/** How many pixels of each tile are open. */
export function tilesOf(width: number, height: number): Int32Array {
  const side = 1 << TILE
  const columns = Math.ceil(width / side)
  const tiles = new Int32Array(columns * Math.ceil(height / side))
  for (let t = 0; t < tiles.length; t++) tiles[t] = Math.min(side, width - (t % columns) * side) * Math.min(side, height - Math.floor(t / columns) * side)
  return tiles
}

export function paintScalar(points: Points, sheet: Sheet, out: Uint8ClampedArray): void {
  const { width, height, top, rows, view, palette, stamps } = sheet
  const { scaleX, scaleY } = scales(sheet)
  const columns = (width + 15) >> TILE
  const tiles = tilesOf(width, rows)
  const sums = new Float32Array(4 * width * rows)
  for (let i = 3; i < sums.length; i += 4) sums[i] = 1
  for (let i = 0; i < points.count; i++) {
    const px = Math.floor((points.x[i] - view.u0) * scaleX + 0.5)
    const py = Math.floor(height - (points.y[i] - view.v0) * scaleY + 0.5) - top
    if (!(px > -64 && py > -64 && px < width + 64 && py < rows + 64)) continue
    const { half, side, opacities, ends } = stamps[points.stamp[i]]
    const left = Math.max(0, px - half)
    const last = Math.min(width - 1, px + half)
    const high = Math.max(0, py - half)
    const low = Math.min(rows - 1, py + half)
    if (left > last || high > low) continue
    let open = 0
    for (let ty = high >> TILE; ty <= low >> TILE; ty++) for (let tx = left >> TILE; tx <= last >> TILE; tx++) open |= tiles[ty * columns + tx]
    if (open === 0) continue
    const [r, g, b] = palette[points.entry[i]] ?? palette[0]
    for (let y = high; y <= low; y++) {
      const row = y - py + half
      const from = Math.max(left, px - half + ends[2 * row])
      const to = Math.min(last + 1, px - half + ends[2 * row + 1])
      for (let x = from, at = 4 * (y * width + from), a = row * side + from - px + half; x < to; x++, at += 4, a++) {
        const through = sums[at + 3]
        if (through === 0) continue
        let part = f(through * opacities[a])
        if (f(through - part) < CLOSED) {
          part = through
          tiles[(y >> TILE) * columns + (x >> TILE)]--
        }
        sums[at] += f(part * r)
        sums[at + 1] += f(part * g)
        sums[at + 2] += f(part * b)
        sums[at + 3] = through - part
      }
    }
  }
  develop(sums, out)
}

function develop(sums: Float32Array, out: Uint8ClampedArray): void {
  for (let at = 0; at < sums.length; at += 4) {
    const covered = f(1 - sums[at + 3])
    if (covered === 0) continue
    const share = f(1 / covered)
    for (let i = at; i < at + 3; i++) out[i] = Math.floor(f(f(sums[i] * share) + 0.5))
    out[at + 3] = Math.floor(f(f(covered * 255) + 0.5))
  }
}
