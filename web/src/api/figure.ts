/** The figure as it travels: a JSON head and typed arrays behind it. See docs/formats.md. */
import type { Scale, Tick } from '../scale/scale'

export type NumberArray = Float32Array | Float64Array | Uint8Array | Uint16Array | Uint32Array | Int32Array

export interface Axis extends Scale {
  column: string
  name: string
  unit?: string
  title: string
  tick_count: number
  ticks: Tick[] | null
}

export interface Group {
  name: string
  light?: string
  dark?: string
  shape?: string
  count: number
}

export interface Key {
  column: string
  name: string
  unit?: string
  groups?: Group[]
  gradient?: { low: number; high: number; light: string[]; dark: string[]; ticks: Tick[] }
}

export interface Fact {
  name: string
  value: string
}

export interface Fit {
  kind: string
  name: string
  group: number
  light: string
  dark: string
  dashed: boolean
  index: number
  x: NumberArray | null
  y: NumberArray | null
  low: NumberArray | null
  high: NumberArray | null
  band?: string
  facts: Fact[]
  problem?: string
}

export interface CardColumn {
  column: string
  name: string
  unit?: string
  kind: string
  grain?: string
  levels?: string[]
  numbers: NumberArray | null
  codes: NumberArray | null
}

export interface Figure {
  version: number
  width: number
  height: number
  plot: { left: number; top: number; width: number; height: number }
  title?: string
  note?: string
  x: Axis
  y: Axis
  dots: {
    count: number
    opacity: number
    fixed_radius: number
    largest_radius: number
    x: NumberArray
    y: NumberArray
    colour: NumberArray | null
    shape: NumberArray | null
    radius: NumberArray | null
    row: NumberArray | null
    left_out: NumberArray | null
  }
  colour?: Key
  shape?: Key
  size?: { column: string; name: string; unit?: string; samples: { label: string; radius: number }[] }
  fits: Fit[]
  rows: { total: number; drawn: number; left_out: { reason: string; count: number }[]; outside: number }
  card: { heading?: string; columns: CardColumn[] }
}

export interface Span {
  text: string
  strong?: boolean
}

export interface Reading {
  paragraphs: { kind: 'plain' | 'warning' | 'caution'; spans: Span[] }[]
  slope_unit?: string
  fits: { name: string; group: number; light?: string; dark?: string; slope: string; interval: string; n: string; problem?: string }[]
}

export interface Part {
  text: string
  slot?: string
  role?: 'column' | 'way'
}

/** A decoded picture. D is the chart document, which a reader need not know. */
export interface Picture<D = unknown> {
  figure: Figure
  reading: Reading
  spoken: Part[]
  typed: string
  document: D
  words: string
}

const MAGIC = 'LARKFIG1'
const TYPES = { f32: Float32Array, f64: Float64Array, u8: Uint8Array, u16: Uint16Array, u32: Uint32Array, i32: Int32Array }

/** Positions kept as whole numbers stand for shares in steps of 1/65535. */
const POSITION_STEPS = 65535

export function decodePicture<D>(buffer: ArrayBuffer): Picture<D> {
  const magic = new TextDecoder('latin1').decode(new Uint8Array(buffer, 0, 8))
  if (magic !== MAGIC) throw new Error('this is not a figure')
  const length = new DataView(buffer).getUint32(8, true)
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 12, length)))
  const start = Math.ceil((12 + length) / 8) * 8
  const arrays: NumberArray[] = head.buffers.map((b: { type: keyof typeof TYPES; offset: number; length: number }) => {
    const array = new TYPES[b.type](buffer, start + b.offset, b.length)
    if (b.type !== 'u16') return array
    const shares = new Float32Array(b.length)
    for (let i = 0; i < b.length; i++) shares[i] = array[i] / POSITION_STEPS
    return shares
  })
  const resolve = (owner: Record<string, unknown>, names: string[]) => {
    for (const name of names) {
      const value = owner[name] as { buffer?: number } | unknown[] | undefined
      owner[name] = value && 'buffer' in value ? arrays[value.buffer as number] : null
    }
  }
  const figure = head.figure
  resolve(figure.dots, ['x', 'y', 'colour', 'shape', 'radius', 'row', 'left_out'])
  for (const fit of figure.fits) resolve(fit, ['x', 'y', 'low', 'high'])
  for (const column of figure.card.columns) resolve(column, ['numbers', 'codes'])
  return head
}

/** Gives the table row of a dot. */
export function rowFinder(figure: Figure): (dot: number) => number {
  const { row, left_out: leftOut } = figure.dots
  if (row) return (dot) => row[dot]
  if (!leftOut) return (dot) => dot
  // How many rows are drawn before each byte of the mask, then a walk of eight bits.
  const before = new Uint32Array(leftOut.length + 1)
  for (let i = 0; i < leftOut.length; i++) {
    let gone = leftOut[i]
    let bits = 0
    while (gone) {
      bits += gone & 1
      gone >>= 1
    }
    before[i + 1] = before[i] + 8 - bits
  }
  return (dot) => {
    let low = 0
    let high = leftOut.length
    while (low + 1 < high) {
      const middle = (low + high) >> 1
      if (before[middle] <= dot) low = middle
      else high = middle
    }
    let rest = dot - before[low]
    for (let bit = 0; bit < 8; bit++) if (!(leftOut[low] & (1 << bit)) && rest-- === 0) return low * 8 + bit
    return -1
  }
}
