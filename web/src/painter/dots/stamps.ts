/** Stamps: how much of each pixel about its middle a shape of a size covers. */

/** How a shape of a radius covers whole pixels, and how much of it lets through. */
export interface Stamp {
  /** How far it reaches from its middle, and its side: 2 half + 1. */
  half: number
  side: number
  /** Of each pixel, row by row, from 0 to 1. */
  opacities: Float32Array
  /** Where each row begins and where it has ended. */
  ends: Int32Array
}

const inRect = (x: number, y: number, a: number, b = a) => Math.abs(x) <= a && Math.abs(y) <= b
const inTriangle = (x: number, y: number, a: number) => y <= a / 2 && y >= -a + Math.abs(x) * (1.5 / 0.866)

/** Whether a place lies in each shape of a radius, as shapes.ts draws them. */
const INSIDE: Record<string, (x: number, y: number, r: number) => boolean> = {
  circle: (x, y, r) => x * x + y * y <= r * r,
  square: (x, y, r) => inRect(x, y, r * 0.886),
  triangle: (x, y, r) => inTriangle(x, y, r * 1.555),
  down: (x, y, r) => inTriangle(x, -y, r * 1.555),
  diamond: (x, y, r) => Math.abs(x) + Math.abs(y) <= r * 1.253,
  cross: (x, y, r) => inRect(x, y, r * 1.15, r * 0.42) || inRect(x, y, r * 0.42, r * 1.15),
  bar: (x, y, r) => inRect(x, y, r * 0.5, r * 1.4),
  ring: (x, y, r) => x * x + y * y <= r * r * 1.05 * 1.05 && x * x + y * y >= r * r * 0.45 * 0.45,
}

/** How far the outermost place of any shape lies from its middle, in radii. */
const REACH = 1.56

/** The stamp of a shape of a radius in pixels, by 4 by 4 samples a pixel; of its outline alone where that has a width. */
export function stampOf(shape: string, radius: number, opacity: number, outline = 0): Stamp {
  const within = INSIDE[shape] ?? INSIDE.circle
  const [outer, inner] = [radius + outline / 2, radius - outline / 2]
  const inside = outline > 0 ? (x: number, y: number) => within(x, y, outer) && !(inner > 0 && within(x, y, inner)) : within
  const half = Math.ceil(shape === 'circle' ? outer : outer * REACH)
  const side = 2 * half + 1
  const opacities = new Float32Array(side * side)
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      let samples = 0
      for (let s = 0; s < 16; s++) if (inside(x - half + ((s & 3) - 1.5) / 4, y - half + ((s >> 2) - 1.5) / 4, radius)) samples++
      opacities[y * side + x] = (samples / 16) * opacity
    }
  return trimmed(half, opacities)
}

/** A stamp of opacities, with where each of its rows begins and has ended. */
export function trimmed(half: number, opacities: Float32Array): Stamp {
  const side = 2 * half + 1
  const ends = new Int32Array(2 * side)
  for (let row = 0; row < side; row++) {
    const full = opacities.subarray(row * side, (row + 1) * side)
    const to = full.findLastIndex((v) => v > 0) + 1
    ends[2 * row] = to && full.findIndex((v) => v > 0)
    ends[2 * row + 1] = to
  }
  return { half, side, opacities, ends }
}

/** Stamps as they are painted with: opacities are whole numbers of which ONE is 1, seven of 0 after each row's, so that eight may be read anywhere in it. */
export interface Stamps {
  /** Of each stamp four numbers: how far it reaches from its middle, the first row with anything, the one after the last, and the place of its rows. */
  about: Int32Array
  /** Of each row three numbers: where it begins, where it has ended, and the place of its opacities. */
  rows: Int32Array
  opacities: Int16Array
  /** How far the largest reaches. */
  reach: number
}

/** What opacities, colours and shades are counted in. */
export const ONE = 32767

export function packed(stamps: Stamp[]): Stamps {
  const about: number[] = []
  const rows: number[] = []
  const all: number[] = []
  for (const { half, side, opacities, ends } of stamps) {
    const full = Array.from({ length: side }, (_, row) => row).filter((row) => ends[2 * row] < ends[2 * row + 1])
    about.push(half, full.length ? full[0] : 0, full.length ? full[full.length - 1] + 1 : 0, rows.length)
    for (let row = 0; row < side; row++) {
      const [from, to] = [ends[2 * row], ends[2 * row + 1]]
      rows.push(from, to, all.length)
      for (let at = from; at < to + 7; at++) all.push(at < to ? Math.round(opacities[row * side + at] * ONE) : 0)
    }
  }
  return {
    about: Int32Array.from(about),
    rows: Int32Array.from(rows),
    opacities: Int16Array.from(all),
    reach: Math.max(0, ...stamps.map((s) => s.half)),
  }
}
