/**
 * The inner loop of painting points, in AssemblyScript: compiled by scripts/kernel.mjs into
 * src/painter/dots/kernel.gen.ts. src/painter/dots/scalar.ts is its twin in TypeScript, which
 * paints the same pixels where WebAssembly is refused; a test holds them equal.
 *
 * Points come front to back. Of each pixel, sums holds four numbers of 32 bits: red, green and
 * blue so far, and what still shines through, from 1 to 0. A tile of 16 by 16 pixels through
 * which nothing shines any more is left out.
 */

const TILE: i32 = 4
const CLOSED: f32 = 0.009

/** Makes a sheet through which everything shines. */
export function clear(sums: usize, pixels: i32): void {
  const open = f32x4(0, 0, 0, 1)
  for (let i = 0; i < pixels; i++) v128.store(sums + (<usize>i << 4), open)
}

/**
 * Lays points under what is on the sheet. A stamp is four numbers: how far it reaches from its
 * middle, its side, where its opacities lie, where each row begins and ends.
 * The sheet is a band of rows of the whole height, from the row top on.
 */
export function lay(count: i32, x: usize, y: usize, stamp: usize, entry: usize, width: i32, height: i32, top: i32, rows: i32, u0: f64, scaleX: f64, v0: f64, scaleY: f64, stamps: usize, palette: usize, sums: usize, tiles: usize): void {
  const columns = (width + 15) >> TILE
  const right = <f64>width + 64
  const above = <f64>top - 64
  const bottom = <f64>(top + rows) + 64
  for (let i = 0; i < count; i++) {
    const fx = Math.floor((<f64>load<f32>(x + (<usize>i << 2)) - u0) * scaleX + 0.5)
    const fy = Math.floor(<f64>height - (<f64>load<f32>(y + (<usize>i << 2)) - v0) * scaleY + 0.5)
    if (!(fx > -64 && fy > above && fx < right && fy < bottom)) continue
    const px = <i32>fx
    const py = <i32>fy - top
    const about = stamps + (<usize>load<u16>(stamp + (<usize>i << 1)) << 4)
    const half = load<i32>(about)
    const side = load<i32>(about, 4)
    const left = max(0, px - half)
    const last = min(width - 1, px + half)
    const high = max(0, py - half)
    const low = min(rows - 1, py + half)
    if (left > last || high > low) continue
    const upper = tiles + (<usize>((high >> TILE) * columns) << 2)
    const lower = tiles + (<usize>((low >> TILE) * columns) << 2)
    const first = <usize>(left >> TILE) << 2
    const end = <usize>(last >> TILE) << 2
    let open = load<i32>(upper + first) | load<i32>(upper + end) | load<i32>(lower + first) | load<i32>(lower + end)
    if (side > 17) { // it may reach over more tiles than those of its corners
      for (let ty = upper; ty <= lower; ty += <usize>columns << 2) {
        for (let tx = first; tx <= end; tx += 4) open |= load<i32>(ty + tx)
      }
    }
    if (open == 0) continue
    const opacities = <usize>load<u32>(about, 8)
    const ends = <usize>load<u32>(about, 12)
    const colour = v128.load(palette + (<usize>load<u8>(entry + <usize>i) << 4))
    for (let yy = high; yy <= low; yy++) {
      const row = yy - py + half
      const from = max(left, px - half + load<i32>(ends + (<usize>row << 3)))
      const to = min(last + 1, px - half + load<i32>(ends + (<usize>row << 3), 4))
      let at = sums + (<usize>(yy * width + from) << 4)
      let a = opacities + (<usize>(row * side + from - px + half) << 2)
      const tile = tiles + (<usize>((yy >> TILE) * columns) << 2)
      for (let xx = from; xx < to; xx++, at += 16, a += 4) {
        const through = load<f32>(at, 12)
        if (through == 0) continue
        let part = through * load<f32>(a)
        if (through - part < CLOSED) {
          part = through
          const t = tile + (<usize>(xx >> TILE) << 2)
          store<i32>(t, load<i32>(t) - 1)
        }
        v128.store(at, f32x4.add(v128.load(at), f32x4.mul(f32x4.splat(part), colour)))
      }
    }
  }
}

/** Turns sums into colours with opacities, four bytes a pixel. */
export function develop(sums: usize, pixels: i32, out: usize): void {
  for (let i = 0; i < pixels; i++) {
    const sum = v128.load(sums + (<usize>i << 4))
    const covered: f32 = 1 - f32x4.extract_lane(sum, 3)
    if (covered == 0) {
      store<u32>(out + (<usize>i << 2), 0)
      continue
    }
    const colour = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(sum, f32x4.splat(1 / covered)), f32x4.splat(0.5)))
    const pixel = i32x4.replace_lane(colour, 3, <i32>(covered * 255 + 0.5))
    const words = i16x8.narrow_i32x4_u(pixel, pixel)
    store<u32>(out + (<usize>i << 2), i32x4.extract_lane(i8x16.narrow_i16x8_u(words, words), 0))
  }
}
