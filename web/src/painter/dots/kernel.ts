/** Lays points on a sheet by the compiled kernel, where WebAssembly is allowed. */
import { KERNEL } from './kernel.gen'
import { TILE } from './scalar'
import { cellsOf, inks, placesOf, shadesOfMeans } from './shade'
import { inked, scales, strideOf, type Points, type Sheet } from './sheet'
import { ONE, type Stamps } from './stamps'

interface Exports {
  memory: WebAssembly.Memory
  clear(sums: number, stride: number, width: number, rows: number): void
  open(columns: number, rows: number, tiles: number, shut: number): void
  place(
    count: number,
    x: number,
    y: number,
    height: number,
    top: number,
    u0: number,
    scaleX: number,
    v0: number,
    scaleY: number,
    places: number,
  ): void
  lay(
    count: number,
    places: number,
    stamp: number,
    entry: number,
    width: number,
    stride: number,
    rows: number,
    stamps: number,
    lines: number,
    opacities: number,
    reach: number,
    palette: number,
    sums: number,
    tiles: number,
    shut: number,
  ): void
  deepen(
    count: number,
    x: number,
    y: number,
    stamp: number,
    paint: number,
    u0: number,
    scaleX: number,
    v1: number,
    scaleY: number,
    columns: number,
    rows: number,
    depths: number,
  ): void
  soften(depths: number, columns: number, rows: number, means: number): number
  spread(cells: number, columns: number, across: number, width: number, out: number): number
  shade(sums: number, stride: number, upper: number, lower: number, share: number, ink: number): void
  develop(sums: number, stride: number, width: number, rows: number, out: number): void
}

const PAGE = 65536

type Numbers = Float32Array | Uint16Array | Uint8Array | Int32Array | Int16Array

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

  private keep(values: Numbers): number {
    const at = this.take(values.byteLength)
    new Uint8Array(this.exports.memory.buffer, at, values.byteLength).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
    )
    return at
  }

  /** The pixels of a sheet, which stand until the next is painted. */
  paint(points: Points, sheet: Sheet): Uint8ClampedArray<ArrayBuffer> {
    if (this.resident !== points) {
      this.free = 1024
      const { count: n } = points
      this.places = {
        x: this.keep(points.x.subarray(0, n)),
        y: this.keep(points.y.subarray(0, n)),
        stamp: this.keep(points.stamp.subarray(0, n)),
        entry: this.keep(points.entry.subarray(0, n)),
      }
      this.resident = points
    }
    const begun = this.free // what follows is this sheet's own
    const { width, height, top, rows, view } = sheet
    const { scaleX, scaleY } = scales(sheet)
    const stride = strideOf(width)
    const sums = this.take(8 * stride * rows)
    const { stamps, lines, opacities } = this.keepStamps(sheet.stamps)
    const palette = this.keep(inked(Array.from({ length: 256 }, (_, i) => sheet.palette[i] ?? sheet.palette[0])))
    const tilesAcross = Math.ceil(width / TILE) + 2
    const tilesDown = Math.ceil(rows / TILE) + 2
    const [tiles, shut, places] = [this.take(4 * tilesAcross * tilesDown), this.take(tilesAcross * tilesDown), this.take(4 * points.count)]
    const { x, y, stamp, entry } = this.places
    this.exports.clear(sums, stride, width, rows)
    this.exports.open(tilesAcross, tilesDown, tiles, shut)
    this.exports.place(points.count, x, y, height, top, view.u0, scaleX, view.v0, scaleY, places)
    this.exports.lay(
      points.count,
      places,
      stamp,
      entry,
      width,
      stride,
      rows,
      stamps,
      lines,
      opacities,
      sheet.stamps.reach,
      palette,
      sums,
      tiles,
      shut,
    )
    if (sheet.shade) this.shade(points.count, sheet, sums)
    const developed = this.take(4 * width * rows + 32)
    this.exports.develop(sums, stride, width, rows, developed)
    this.free = begun
    return new Uint8ClampedArray(this.exports.memory.buffer as ArrayBuffer, developed, 4 * width * rows)
  }

  private keepStamps({ about, rows, opacities }: Stamps) {
    return { stamps: this.keep(about), lines: this.keep(rows), opacities: this.keep(opacities) }
  }

  private shade(count: number, sheet: Sheet, sums: number): void {
    const { view, rows, width } = sheet
    const { paint, ink, width: page, height } = sheet.shade!
    const cells = cellsOf(view, page, height)
    const all = cells.columns * cells.rows
    const { x, y, stamp } = this.places
    const [depths, means] = [this.take(4 * all), this.take(4 * all)]
    this.exports.deepen(
      count,
      x,
      y,
      stamp,
      this.keep(paint),
      view.u0,
      cells.scaleX,
      view.v1,
      cells.scaleY,
      cells.columns,
      cells.rows,
      depths,
    )
    const deepest = this.exports.soften(depths, cells.columns, cells.rows, means)
    const shades = shadesOfMeans(new Float32Array(this.exports.memory.buffer, means, all), deepest)
    if (!shades) return
    const values = this.keep(inks(shades))
    const { across, down } = placesOf(sheet, cells)
    const [places, colour, stride] = [this.keep(across), this.keep(inked([ink])), strideOf(width)]
    const spread = [0, 1].map(() => ({ of: -1, any: false, at: this.keep(new Int16Array(stride)) }))
    const row = (cell: number) => {
      const of = Math.min(cell, cells.rows - 1)
      const into = spread[of & 1]
      if (into.of !== of)
        [into.of, into.any] = [of, this.exports.spread(values + 2 * of * cells.columns, cells.columns, places, width, into.at) !== 0]
      return into
    }
    for (let y = 0; y < rows; y++) {
      const [upper, lower] = [row(down[y] >> 15), row((down[y] >> 15) + 1)]
      if (upper.any || lower.any) this.exports.shade(sums + 8 * y * stride, stride, upper.at, lower.at, down[y] & ONE, colour)
    }
  }
}
