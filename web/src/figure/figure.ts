/** The figure as it travels: a JSON head and typed arrays behind it. See docs/formats.md. */
import type { Scale, Tick } from '../scale/scale'

export type NumberArray = Float32Array | Float64Array | Uint8Array | Uint16Array | Uint32Array | Int32Array

export interface AxisScale extends Scale {
  channel: 'x' | 'y'
  column: string
  /** Of the column itself, whatever it is read as. */
  column_kind?: string
  /** Of numbers that are groups: the values of levels that are named with fewer digits. */
  exact?: Record<string, string>
  name: string
  unit?: string
  title: string
  tick_count: number
  ticks: Tick[] | null
  /** Of groups: the levels as they are broken into lines, where they are. */
  labels?: string[] | null
  lines?: number
  tilt?: number
  skip?: number
  room: number
  grain?: string
}

export interface Box {
  left: number
  top: number
  width: number
  height: number
}

export interface Panel {
  box: Box
  x: number
  y: number
  titles?: string[] | null
  labels: { x: boolean; y: boolean }
  rows: number
  /** Along which axis of the first panel it tells how rows are spread; absent for a picture. */
  edge?: 'x' | 'y'
}

export interface Shaded {
  light?: string
  dark?: string
}

export interface Style extends Shaded {
  opacity?: number
  fill?: boolean
  width?: number
  dash?: number[] | null
  fixed_radius?: number
  largest_radius?: number
  shape?: string
  outline?: boolean
  /** Where more points lie over each other than can be seen, shade tells how many. */
  shaded?: boolean
  rim?: { light: string; dark: string; width: number } | null
  cap?: number
  size?: number
  bold?: boolean
  halo?: boolean
  anchor?: 'start' | 'middle' | 'end'
  above?: boolean
}

export interface Fact {
  name: string
  value: string
}

export type PrimitiveKind = 'points' | 'paths' | 'areas' | 'rects' | 'polygons' | 'segments' | 'texts'

/** Many primitives of one kind in one panel; arrays that say nothing are absent. */
export interface Layer {
  panel: number
  mark: string
  /** The word of the sentence that governs it. */
  says?: string
  primitive: PrimitiveKind
  count: number
  x?: NumberArray
  y?: NumberArray
  x2?: NumberArray
  y2?: NumberArray
  start?: NumberArray
  colour?: NumberArray
  shape?: NumberArray
  radius?: NumberArray
  dx?: NumberArray
  dy?: NumberArray
  row?: NumberArray
  /** Of rows that are stepped through: which of them are the same from one step to the next. */
  who?: NumberArray
  left_out?: NumberArray
  keys?: { colour?: number; shape?: number; size?: number }
  style: Style
  /** Entries of the colour key that are painted after the others, the last one on top. */
  front?: number[] | null
  words?: string[] | null
  along?: number
  rows?: boolean
  first?: number
  cards?: { heading?: string; facts: Fact[] }[] | null
}

export interface Entry extends Shaded {
  name: string
  shape?: string
  count: number
  /** Its line has a pattern; without a dash it is solid. */
  line?: boolean
  dash?: number[] | null
  /** It stands for the groups that have no colour of their own. */
  rest?: boolean
}

export interface Key {
  channels: ('colour' | 'shape' | 'size' | 'also' | 'band' | 'interval')[]
  column: string
  kind?: string
  name: string
  unit?: string
  /** In which order its entries stand; none: as they are listed. */
  order?: number[] | null
  entries?: Entry[] | null
  gradient?: { low: number; high: number; light: string[]; dark: string[]; ticks: Tick[]; length: number }
  samples?: { label: string; radius: number }[] | null
  /** What stands about lines and statistics. */
  signs?: { label: string; kind: 'band' | 'interval'; light: string; dark: string }[] | null
  /** The word of the sentence that governs it, where its column does not tell. */
  says?: string
  /** What it explains is named on the chart: it is not drawn. */
  named?: boolean
  /** Of numbers that are groups: the values of entries that are named with fewer digits. */
  exact?: Record<string, string>
}

export interface Text {
  role: 'title' | 'subtitle' | 'axis' | 'panel' | 'value'
  axis?: 'x' | 'y'
  panel: number
  x: number
  y: number
  anchor: 'start' | 'middle' | 'end'
  turn?: number
  size: number
  bold?: boolean
  serif?: boolean
  text: string
}

export interface CardColumn {
  column: string
  name: string
  unit?: string
  form?: string
  /** The least decimals that its numbers are written with. */
  fixed?: number
  kind: string
  grain?: string
  levels?: string[] | null
  numbers?: NumberArray
  codes?: NumberArray
}

/** Which rows of a table that stays elsewhere something is of: all of them, or the sample that is here. */
export type Basis = 'all' | 'sample'

/** What a chart asks of all rows of a table that stays elsewhere. */
export interface Whole {
  questions: { key: string; words: string; known: boolean }[]
  /** What is drawn of the sample alone. */
  sampled: string[]
  /** Why all rows cannot be asked. */
  bars?: string
}

export interface Figure {
  version: number
  width: number
  height: number
  title?: string
  note?: string
  scales: AxisScale[]
  panels: Panel[]
  layers: Layer[]
  keys: Key[]
  texts: Text[]
  rows: { total: number; drawn: number; left_out: { reason: string; count: number }[]; outside: number; unlabelled?: number }
  step?: boolean
  /** How far it is of all rows of a table that stays elsewhere; absent: the table is here. */
  elsewhere?: Whole
  /** Whether it came with places in whole steps, which a close look sees. */
  coarse?: boolean
  manner?: {
    grid?: 'off' | 'halves'
    lines?: boolean
    sketch?: boolean
    bold?: boolean
    shaded?: boolean
    key?: 'top' | 'right' | 'inside' | 'off'
    inside?: { left: number; top: number; width: number; height: number } | null
    text?: number
    /** Kinds of words that are written otherwise than usual. */
    letters?: { of: string; size: number; bold?: boolean }[] | null
    /** How the lines of axes look; none: as usual. */
    stroke?: { light?: string; dark?: string; width: number; dash?: number[] | null } | null
    /** Whether lines lead from the mark that is pointed at to the axes. */
    guides?: 'off'
    paper?: { width: number; height: number }
  }
  card: { heading?: string; columns: CardColumn[] }
}

/** Entries of a key that are looked at alone. */
export interface Selection {
  key: number
  entries: number[]
}

/** What is looked at alone in one figure, in the next one: the entries that it still has, by name; null where it has none. */
export function carried(selection: Selection | null, before: Figure, after: Figure): Selection | null {
  if (!selection || before.keys.map((k) => k.column).join('\n') !== after.keys.map((k) => k.column).join('\n')) return null
  const was = before.keys[selection.key - 1]?.entries ?? []
  const is = after.keys[selection.key - 1]?.entries ?? []
  const entries = selection.entries.map((i) => is.findIndex((e) => e.name === was[i]?.name)).filter((i) => i >= 0)
  return entries.length ? { ...selection, entries } : null
}

/** The same groups in another chart, by the column and the names of its key; null where it has none of them. */
export function carriedTo(selection: Selection | null, from: Figure, to: Figure): Selection | null {
  const was = selection && from.keys[selection.key - 1]
  if (!was?.column) return null
  const key = to.keys.findIndex((k) => k.column === was.column && k.entries)
  const names = selection!.entries.map((i) => was.entries?.[i]?.name)
  const entries = names.map((name) => to.keys[key]?.entries?.findIndex((e) => e.name === name) ?? -1).filter((i) => i >= 0)
  return entries.length ? { key: key + 1, entries } : null
}

export const scaleX = (figure: Figure, panel = 0): AxisScale => figure.scales[figure.panels[panel].x]
export const scaleY = (figure: Figure, panel = 0): AxisScale => figure.scales[figure.panels[panel].y]

/** How many panels show rows, and not their spread along an edge. */
export const pictureCount = (figure: Figure): number => figure.panels.filter((p) => !p.edge).length

/** How many points there are that are rows. */
export const pointCount = (figure: Figure): number => figure.layers.reduce((sum, l) => sum + (l.rows ? l.count : 0), 0)

/** What a paragraph of a reading speaks of: rows, fits and groups by their names. */
export interface Shown {
  rows?: number[] | null
  lines?: string[] | null
  groups?: string[] | null
}

export interface Span {
  text: string
  strong?: boolean
}

export interface Reading {
  paragraphs: {
    key?: string
    kind: 'plain' | 'warning' | 'caution'
    spans: Span[]
    shows?: Shown
    offers?: { words: string; clause: string }[] | null
    /** Belongs to a note that is taken from the reading, although it is a caution. */
    noted?: boolean
    basis?: Basis
  }[]
  slope_unit?: string
  fits: {
    name: string
    group: number
    light?: string
    dark?: string
    dash?: number[] | null
    slope: string
    interval: string
    n: string
    problem?: string
    basis?: Basis
  }[]
}

export interface Part {
  text: string
  /** What stands in its place where the text is long. */
  folded?: string
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
  /** What of the document decides which rows stand where; not in what is shared. */
  relation: D
  words: string
  /** The small picture as SVG, where it was asked for. */
  small: string
  /** What sharing it would publish; not in what is shared. */
  goes_out: GoesOut[]
}

/** A column that sharing publishes, or could. */
export interface GoesOut {
  column: string
  name: string
  drawn: boolean
  heads: boolean
}

const MAGIC = 'LARKFIG1'
const TYPES = { f32: Float32Array, f64: Float64Array, u8: Uint8Array, u16: Uint16Array, u32: Uint32Array, i32: Int32Array }
type Decoded = NumberArray

/** Positions kept as whole numbers stand for shares in steps of 1/65535. */
const POSITION_STEPS = 65535

export const decodePicture = <D>(buffer: ArrayBuffer): Picture<D> => decodeFigure<Picture<D>>(buffer)

/** Decodes a figure with what came beside it. */
export function decodeFigure<Whole extends { figure: Figure }>(buffer: ArrayBuffer): Whole {
  const magic = new TextDecoder('latin1').decode(new Uint8Array(buffer, 0, 8))
  if (magic !== MAGIC) throw new Error('this is not a figure')
  const length = new DataView(buffer).getUint32(8, true)
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 12, length)))
  const start = Math.ceil((12 + length) / 8) * 8
  const arrays: Decoded[] = head.buffers.map((b: { type: keyof typeof TYPES; offset: number; length: number }) => {
    const array = new TYPES[b.type](buffer, start + b.offset, b.length)
    if (b.type !== 'u16') return array
    const shares = new Float32Array(b.length)
    for (let i = 0; i < b.length; i++) shares[i] = array[i] / POSITION_STEPS
    return shares
  })
  head.figure.coarse = head.buffers.some((b: { type: string }) => b.type === 'u16')
  const owners = [...head.figure.layers, ...head.figure.card.columns]
  for (const owner of owners) {
    for (const [name, value] of Object.entries(owner as Record<string, unknown>)) {
      if (value && typeof value === 'object' && 'buffer' in value) (owner as Record<string, unknown>)[name] = arrays[value.buffer as number]
    }
  }
  return head
}

/** Gives the table row of a point of a layer. */
const finders = new WeakMap<Layer, (point: number) => number>()

export function rowFinder(layer: Layer): (point: number) => number {
  let finder = finders.get(layer)
  if (!finder) finders.set(layer, (finder = finderOf(layer)))
  return finder
}

function finderOf(layer: Layer): (point: number) => number {
  const { row, left_out: leftOut, first = 0 } = layer
  if (row) return (point) => row[point]
  if (!leftOut) return (point) => first + point
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
  return (point) => {
    let low = 0
    let high = leftOut.length
    while (low + 1 < high) {
      const middle = (low + high) >> 1
      if (before[middle] <= point) low = middle
      else high = middle
    }
    let rest = point - before[low]
    for (let bit = 0; bit < 8; bit++) if (!(leftOut[low] & (1 << bit)) && rest-- === 0) return low * 8 + bit
    return -1
  }
}
