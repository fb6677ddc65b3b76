/** Lays points on a sheet by the compiled kernel, where WebAssembly is allowed. */
import { KERNEL } from './kernel.gen'
import { tilesOf } from './scalar'
import { scales, type Points, type Sheet } from './sheet'

interface Exports {
  memory: WebAssembly.Memory
  clear(sums: number, pixels: number): void
  lay(count: number, x: number, y: number, stamp: number, entry: number, width: number, height: number, top: number, rows: number, u0: number, scaleX: number, v0: number, scaleY: number, stamps: number, palette: number, sums: number, tiles: number): void
  develop(sums: number, pixels: number, out: number): void
}

const PAGE = 65536

export class Kernel {
  private resident: Points | null = null
  private places = { x: 0, y: 0, stamp: 0, entry: 0 }
  private free = 0

  private constructor(private readonly exports: Exports) {}

  /** The kernel; null where it is refused. */
  static make(): Kernel | null {
    try {
      const bytes = Uint8Array.from(atob(KERNEL), (c) => c.charCodeAt(0))
      return new Kernel(new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Exports)
    } catch {
      return null // a policy, or a browser without it: the scalar way paints the same
    }
  }

  /** Takes room, in steps of 16 bytes. */
  private take(bytes: number): number {
    const at = this.free
    this.free = (at + bytes + 15) & ~15
    const missing = this.free - this.exports.memory.buffer.byteLength
    if (missing > 0) this.exports.memory.grow(Math.ceil(missing / PAGE))
    return at
  }

  private keep(values: Float32Array | Uint16Array | Uint8Array | Int32Array): number {
    const at = this.take(values.byteLength)
    new Uint8Array(this.exports.memory.buffer, at, values.byteLength).set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength))
    return at
  }

  paint(points: Points, sheet: Sheet, out: Uint8ClampedArray): void {
    if (this.resident !== points) {
      this.free = 1024
      const { count: n } = points
      this.places = { x: this.keep(points.x.subarray(0, n)), y: this.keep(points.y.subarray(0, n)), stamp: this.keep(points.stamp.subarray(0, n)), entry: this.keep(points.entry.subarray(0, n)) }
      this.resident = points
    }
    const begun = this.free // what follows is this sheet's own
    const { width, height, top, rows, view } = sheet
    const { scaleX, scaleY } = scales(sheet)
    const stamps = this.keep(Int32Array.from(sheet.stamps.flatMap((s) => [s.half, s.side, this.keep(s.opacities), this.keep(s.ends)])))
    const colours = Array.from({ length: 256 }, (_, i) => sheet.palette[i] ?? sheet.palette[0])
    const palette = this.keep(Float32Array.from(colours.flatMap(([r, g, b]) => [r, g, b, -1])))
    const tiles = this.keep(tilesOf(width, rows))
    const pixels = width * rows
    const sums = this.take(16 * pixels)
    const developed = this.take(4 * pixels)
    const { x, y, stamp, entry } = this.places
    this.exports.clear(sums, pixels)
    this.exports.lay(points.count, x, y, stamp, entry, width, height, top, rows, view.u0, scaleX, view.v0, scaleY, stamps, palette, sums, tiles)
    this.exports.develop(sums, pixels, developed)
    out.set(new Uint8ClampedArray(this.exports.memory.buffer, developed, 4 * pixels))
    this.free = begun
  }
}
