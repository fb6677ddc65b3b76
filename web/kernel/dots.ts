/**
 * The inner loop of painting points, in AssemblyScript: compiled by scripts/kernel.mjs into
 * src/painter/dots/kernel.gen.ts. src/painter/dots/scalar.ts is its twin in TypeScript, which
 * paints the same pixels where WebAssembly is refused; a test holds them equal.
 *
 * Points come front to back. Of each row of pixels, sums holds four rows of whole numbers of 16
 * bits, of which ONE is 1: what still shines through, and red, green and blue so far. Eight
 * pixels are painted at once; the last of each row are beyond it, and nothing shines through.
 *
 * A tile of 16 by 16 pixels through which hardly anything shines any more is closed: points that
 * lie on closed tiles alone are left out. Tiles holds how many points may be laid on each before
 * it is looked at again; of a closed one 0. Around them stands a frame of closed ones. Shut says
 * whether a tile and all those about it are closed.
 */

const TILE: i32 = 4
const ONE: i32 = 32767
const CLOSED: i16 = 295
const AGAIN: i32 = 16
/** How far a point that lies in a tile may reach for the tiles about it to be all that it touches. */
const NEAR: i32 = 16

/** Makes a sheet through which everything shines, but beyond the end of each row. */
export function clear(sums: usize, stride: i32, width: i32, rows: i32): void {
  const open = i16x8.splat(32767)
  const none = i16x8.splat(0)
  const row = <usize>stride << 1
  for (let y = 0; y < rows; y++) {
    const at = sums + <usize>y * (row << 2)
    for (let i: usize = 0; i < row; i += 16) v128.store(at + i, open)
    for (let i: usize = row; i < row << 2; i += 16) v128.store(at + i, none)
    for (let x = width; x < stride; x++) store<i16>(at + (<usize>x << 1), 0)
  }
}

/** Makes every tile open, and those of the frame about them closed. */
export function open(columns: i32, rows: i32, tiles: usize, shut: usize): void {
  for (let row = 0, t = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, t++) {
      const inside = row > 0 && column > 0 && row < rows - 1 && column < columns - 1
      store<i32>(tiles + (<usize>t << 2), inside ? AGAIN : 0)
      store<u8>(shut + <usize>t, 0)
    }
}

/** Two numbers as whole numbers below them; what is none lies far outside. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function floors(values: v128): v128 {
  return i32x4.trunc_sat_f64x2_s_zero(f64x2.floor(v128.bitselect(values, f64x2.splat(-1e9), f64x2.eq(values, values))))
}

/** Where points lie among the pixels, as whole numbers of 16 bits; what is far outside is held there. */
export function place(count: i32, x: usize, y: usize, height: i32, top: i32, u0: f64, scaleX: f64, v0: f64, scaleY: f64, places: usize): void {
  const origin = f64x2(u0, v0)
  const scale = f64x2(scaleX, -scaleY)
  const first = f64x2(0.5, <f64>(height - top) + 0.5)
  for (let i = 0; i < count; i++) {
    const at = v128.load32_lane(y + (<usize>i << 2), v128.load32_zero(x + (<usize>i << 2)), 1)
    const pixel = floors(f64x2.add(f64x2.mul(f64x2.sub(f64x2.promote_low_f32x4(at), origin), scale), first))
    v128.store32_lane(places + (<usize>i << 2), i16x8.narrow_i32x4_s(pixel, pixel), 0)
  }
}

/**
 * Lays points under what is on the sheet. A stamp is four numbers: how far it reaches from its
 * middle, its first row and the one after its last, the place of its rows; a row is three: where
 * it begins, where it has ended, the place of its opacities. None reaches further than reach. The
 * sheet is a band of rows.
 */
export function lay(count: i32, places: usize, stamp: usize, entry: usize, width: i32, stride: i32, rows: i32, stamps: usize, lines: usize, opacities: usize, reach: i32, palette: usize, sums: usize, tiles: usize, shut: usize): void {
  const columns = ((width + 15) >> TILE) + 2
  const plane = <usize>stride << 1
  for (let i = 0; i < count; i++) {
    const px = <i32>load<i16>(places + (<usize>i << 2))
    const py = <i32>load<i16>(places + (<usize>i << 2), 2)
    if (px < -reach || py < -reach || px >= width + reach || py >= rows + reach) continue
    const within = reach <= NEAR && px >= 0 && py >= 0 && px < width && py < rows
    const own = <usize>(((py >> TILE) + 1) * columns + (px >> TILE) + 1)
    if (within && load<u8>(shut + own)) continue
    const about = stamps + (<usize>load<u16>(stamp + (<usize>i << 1)) << 4)
    const half = load<i32>(about)
    const left = max(0, px - half)
    const last = min(width - 1, px + half)
    const high = max(0, py - half + load<i32>(about, 4))
    const end = min(rows, py - half + load<i32>(about, 8))
    if (left > last || high >= end) continue
    const begins = px - half
    const cut = begins < 0 || px + half >= width
    const colour = palette + (<usize>load<u8>(entry + <usize>i) << 3)
    const red = v128.load16_splat(colour)
    const green = v128.load16_splat(colour, 2)
    const blue = v128.load16_splat(colour, 4)
    const above = load<i32>(about, 12) + (half - py) * 3
    for (let y0 = high; y0 < end; y0 = (y0 | 15) + 1) {
      const first = tiles + (<usize>(((y0 >> TILE) + 1) * columns + (left >> TILE) + 1) << 2)
      const after = tiles + (<usize>(((y0 >> TILE) + 1) * columns + (last >> TILE) + 2) << 2)
      let open = 0
      for (let tile = first; tile < after; tile += 4) open |= load<i32>(tile)
      if (open == 0) continue
      let line = lines + (<usize>(above + y0 * 3) << 2)
      for (let y = y0, y1 = min(end, (y0 | 15) + 1); y < y1; y++, line += 12) {
        let from = begins + load<i32>(line)
        let to = begins + load<i32>(line, 4)
        let a = opacities + (<usize>load<i32>(line, 8) << 1)
        if (cut) {
          const begun = max(left, from)
          a += <usize>(begun - from) << 1
          from = begun
          to = min(last + 1, to)
        }
        for (let at = sums + (<usize>(y * stride * 4 + from) << 1); from < to; from += 8, at += 16, a += 16) {
          const through = v128.load(at)
          const part = i16x8.q15mulr_sat_s(through, v128.load(a))
          v128.store(at, i16x8.sub(through, part))
          const r = at + plane
          v128.store(r, i16x8.add(v128.load(r), i16x8.q15mulr_sat_s(part, red)))
          const g = r + plane
          v128.store(g, i16x8.add(v128.load(g), i16x8.q15mulr_sat_s(part, green)))
          const b = g + plane
          v128.store(b, i16x8.add(v128.load(b), i16x8.q15mulr_sat_s(part, blue)))
        }
      }
      for (let tile = first; tile < after; tile += 4) {
        const more = load<i32>(tile)
        if (more == 0) continue
        store<i32>(tile, more - 1)
        if (more == 1) look((y0 >> TILE) + 1, <i32>((tile - tiles) >> 2) % columns, columns, width, stride, rows, sums, tiles, shut)
      }
    }
  }
}

/** Looks whether a tile is closed by now; where it is, tells those about it. */
function look(ty: i32, tx: i32, columns: i32, width: i32, stride: i32, rows: i32, sums: usize, tiles: usize, shut: usize): void {
  const at = tiles + (<usize>(ty * columns + tx) << 2)
  const x0 = (tx - 1) << TILE
  const x1 = min(width, x0 + 16)
  const y1 = min(rows, ty << TILE)
  for (let y = (ty - 1) << TILE; y < y1; y++) {
    let shines = 0
    for (let x = x0; x < x1; x++) shines |= i32(load<i16>(sums + (<usize>(y * stride * 4 + x) << 1)) >= CLOSED)
    if (shines) {
      store<i32>(at, AGAIN)
      return
    }
  }
  for (let y = ty - 1; y <= ty + 1; y++)
    for (let x = tx - 1; x <= tx + 1; x++) {
      if (y < 1 || x < 1 || y > (rows + 15) >> TILE || x > columns - 2) continue
      let open = 0
      for (let v = y - 1; v <= y + 1; v++) for (let u = x - 1; u <= x + 1; u++) open |= load<i32>(tiles + (<usize>(v * columns + u) << 2))
      if (open == 0) store<u8>(shut + <usize>(y * columns + x), 1)
    }
}

/** Adds what each point paints to the depth of its cell. */
export function deepen(count: i32, x: usize, y: usize, stamp: usize, paint: usize, u0: f64, scaleX: f64, v1: f64, scaleY: f64, columns: i32, rows: i32, depths: usize): void {
  for (let i = 0; i < columns * rows; i++) store<f32>(depths + (<usize>i << 2), 0)
  const origin = f64x2(u0, v1)
  const scale = f64x2(scaleX, -scaleY)
  for (let i = 0; i < count; i++) {
    const at = v128.load32_lane(y + (<usize>i << 2), v128.load32_zero(x + (<usize>i << 2)), 1)
    const cell = floors(f64x2.mul(f64x2.sub(f64x2.promote_low_f32x4(at), origin), scale))
    const column = <u32>i32x4.extract_lane(cell, 0)
    const row = <u32>i32x4.extract_lane(cell, 1)
    if (column >= <u32>columns || row >= <u32>rows) continue // those below 0 are the largest of all
    const depth = depths + (<usize>(row * columns + column) << 2)
    store<f32>(depth, load<f32>(depth) + load<f32>(paint + (<usize>load<u16>(stamp + (<usize>i << 1)) << 2)))
  }
}

/** The mean of each cell and those about it; gives the largest. */
export function soften(depths: usize, columns: i32, rows: i32, means: usize): f32 {
  let deepest: f32 = 0
  for (let row = 0; row < rows; row++) {
    const upper = max(row - 1, 0)
    const lower = min(row + 1, rows - 1)
    for (let column = 0; column < columns; column++) {
      const left = max(column - 1, 0)
      const right = min(column + 1, columns - 1)
      let sum: f32 = 0
      for (let r = upper; r <= lower; r++) for (let c = left; c <= right; c++) sum += load<f32>(depths + (<usize>(r * columns + c) << 2))
      const mean = sum / <f32>((lower - upper + 1) * (right - left + 1))
      store<f32>(means + (<usize>(row * columns + column) << 2), mean)
      deepest = max(deepest, mean)
    }
  }
  return deepest
}

/**
 * Spreads a row of cells over a row of pixels: across says of each pixel the cell before its
 * middle and how far beyond that one's it lies, as one number; gives whether any is shaded.
 */
export function spread(cells: usize, columns: i32, across: usize, width: i32, out: usize): i32 {
  let any = 0
  for (let px = 0; px < width; px++) {
    const where = load<i32>(across + (<usize>px << 2))
    const cell = where >> 15
    const a = <i32>load<i16>(cells + (<usize>cell << 1))
    const b = <i32>load<i16>(cells + (<usize>min(cell + 1, columns - 1) << 1))
    const value = a + (((b - a) * (where & ONE) + 16384) >> 15)
    store<i16>(out + (<usize>px << 1), <i16>value)
    any |= value
  }
  return any
}

/** Lays ink over a row of pixels, and over nothing else, by two rows of shades of which ONE is all ink, mixed by the share of the lower. */
export function shade(sums: usize, stride: i32, upper: usize, lower: usize, share: i32, ink: usize): void {
  const plane = <usize>stride << 1
  const part = i16x8.splat(<i16>share)
  const one = i16x8.splat(32767)
  for (let i: usize = 0; i < plane; i += 16) {
    const above = v128.load(upper + i)
    const value = i16x8.add(above, i16x8.q15mulr_sat_s(i16x8.sub(v128.load(lower + i), above), part))
    if (!v128.any_true(value)) continue
    const over = i16x8.q15mulr_sat_s(i16x8.sub(one, v128.load(sums + i)), value)
    for (let k: usize = 0, at = sums + i + plane; k < 6; k += 2, at += plane) {
      const sum = v128.load(at)
      v128.store(at, i16x8.add(i16x8.sub(sum, i16x8.q15mulr_sat_s(sum, value)), i16x8.q15mulr_sat_s(over, v128.load16_splat(ink + k))))
    }
  }
}

/** Turns sums into colours with opacities, four bytes a pixel. */
export function develop(sums: usize, stride: i32, width: i32, rows: i32, out: usize): void {
  const plane = <usize>stride << 1
  const one = i16x8.splat(32767)
  const closed = i16x8.splat(CLOSED)
  const full = i16x8.splat(255)
  for (let y = 0; y < rows; y++) {
    const row = sums + <usize>y * (plane << 2)
    const to = out + (<usize>(y * width) << 2)
    for (let x = 0; x < width; x += 8) {
      const at = row + (<usize>x << 1)
      const through = v128.load(at)
      const covered = i16x8.sub(one, through)
      const pixel = to + (<usize>x << 2)
      let first = i16x8.splat(0)
      let second = first
      if (v128.any_true(covered)) {
        const low = f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(covered))
        const high = f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_s(covered))
        const shareLow = f32x4.div(f32x4.splat(255), low)
        const shareHigh = f32x4.div(f32x4.splat(255), high)
        const red = bytes(v128.load(at + plane), shareLow, shareHigh)
        const green = bytes(v128.load(at + (plane << 1)), shareLow, shareHigh)
        const blue = bytes(v128.load(at + plane + (plane << 1)), shareLow, shareHigh)
        const share = f32x4.splat(<f32>255 / <f32>32767)
        const alpha = v128.bitselect(full, bytes(covered, share, share), i16x8.gt_s(closed, through))
        const warm = v128.or(red, i16x8.shl(green, 8))
        const cold = v128.or(blue, i16x8.shl(alpha, 8))
        first = i8x16.shuffle(warm, cold, 0, 1, 16, 17, 2, 3, 18, 19, 4, 5, 20, 21, 6, 7, 22, 23)
        second = i8x16.shuffle(warm, cold, 8, 9, 24, 25, 10, 11, 26, 27, 12, 13, 28, 29, 14, 15, 30, 31)
      }
      v128.store(pixel, first)
      v128.store(pixel, second, 16) // what goes beyond the row, the next one writes over
    }
  }
}

/** Eight numbers, each times its share, rounded, at most 255. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function bytes(values: v128, shareLow: v128, shareHigh: v128): v128 {
  const half = f32x4.splat(0.5)
  const low = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_s(values)), shareLow), half))
  const high = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_s(values)), shareHigh), half))
  return i16x8.min_s(i16x8.narrow_i32x4_s(low, high), i16x8.splat(255))
}
