/**
 * Scales and ticks for a moving mouse. The twin of core/scale; contract/ticks.json
 * holds both to the same ticks.
 */
import { dateTicks } from './date'
import { durationTicks, logDurationTicks } from './duration'
import { formatNumber, formatValue } from './format'
import { baseTicks, everyTicks, formed, nearTicks } from './said'

export type ScaleKind = 'linear' | 'log' | 'near-linear' | 'date' | 'groups'

export interface Scale {
  kind: ScaleKind
  from: number
  to: number
  /** Whose powers carry the ticks of a log scale; 10 where nothing is said. */
  base?: number
  /** Of a near-linear scale: up to where it is about linear. */
  near?: number
  /** The step between ticks, where one was said. */
  every?: number
  /** Where ticks stand, where that was said. */
  at?: number[] | null
  /** How numbers are written: 120k, percent, plain, currency and its sign, decimals and how many. */
  form?: string
  levels?: string[] | null
}

export interface Tick {
  value: number
  label: string
}

/** How many times what is near zero a value is from where on asinh is a logarithm to all digits. */
const FAR_OUT = 1e9

/** A value in the space that is drawn: its log10 on a log scale, asinh(v / (2 near)) / ln 10 on a near-linear one. */
export function drawn(s: Scale, v: number): number {
  if (s.kind === 'log') return Math.log10(v)
  if (s.kind !== 'near-linear') return v
  const near = s.near || 1
  const size = Math.abs(v)
  if (size / near > FAR_OUT) return Math.sign(v) * (Math.log10(size) - Math.log10(near))
  return Math.asinh(v / near / 2) / Math.LN10
}

/** The inverse of drawn, within what can be written. */
export function undrawn(s: Scale, u: number): number {
  if (s.kind === 'log') return Math.min(Math.max(10 ** u, Number.MIN_VALUE), Number.MAX_VALUE)
  if (s.kind !== 'near-linear') return u
  const near = s.near || 1
  if (Math.abs(u) > Math.log10(FAR_OUT)) return Math.sign(u) * Math.min(10 ** (Math.abs(u) + Math.log10(near)), Number.MAX_VALUE)
  return near * (2 * Math.sinh(u * Math.LN10))
}

/** How far v lies on the way from low to high, also where the distance is beyond a number. The twin of core/magnitude. */
function share(v: number, low: number, high: number): number {
  if (Number.isFinite(high - low) && Number.isFinite(v - low)) return (v - low) / (high - low)
  return (v / 4 - low / 4) / (high / 4 - low / 4)
}

/** The point at a share of the way from low to high. */
function between(low: number, high: number, share: number): number {
  return Number.isFinite(high - low) ? low + share * (high - low) : low * (1 - share) + high * share
}

/** Where a value stands: 0 at from, 1 at to. */
export function position(s: Scale, v: number): number {
  return share(drawn(s, v), drawn(s, s.from), drawn(s, s.to))
}

/** The value at a position. */
export function valueAt(s: Scale, p: number): number {
  const from = drawn(s, s.from)
  return undrawn(s, between(from, drawn(s, s.to), p))
}

/** The same scale over a part of its positions. */
export function part(s: Scale, p0: number, p1: number): Scale {
  return { ...s, from: valueAt(s, p0), to: valueAt(s, p1) }
}

/** About count ticks within the domain, from low to high. */
export function ticks(s: Scale, count: number): Tick[] {
  const low = Math.min(s.from, s.to)
  const high = Math.max(s.from, s.to)
  count = Math.max(2, count)
  const said = everyTicks(s, low, high)
  if (said) return formed(s, said)
  const lasts = s.form === 'duration'
  if (s.kind === 'log') {
    if (s.base && s.base !== 10) return formed(s, baseTicks(low, high, s.base, count))
    return formed(s, lasts ? logDurationTicks(low, high, count) : logTicks(low, high, count))
  }
  if (s.kind === 'near-linear') return formed(s, nearTicks(s, low, high, count))
  if (s.kind === 'date') return dateTicks(low, high, count)
  if (s.kind === 'groups')
    return (s.levels ?? []).map((label, value) => ({ value, label })).filter((t) => t.value >= low && t.value <= high)
  return formed(s, lasts ? durationTicks(low, high, count) : linearTicks(low, high, count))
}

/** The step of 1, 2 or 5 times a power of ten that divides the way from low to high into about count parts. */
export function step(low: number, high: number, count: number): number {
  const rough = high / count - low / count
  if (!(rough > 0) || !Number.isFinite(rough)) return 1
  const unit = 10 ** Math.floor(Math.log10(rough))
  if (unit === 0) return rough
  const ratio = rough / unit
  if (ratio < Math.SQRT2) return unit
  if (ratio < Math.sqrt(10)) return 2 * unit
  if (ratio < Math.sqrt(50)) return 5 * unit
  return 10 * unit
}

export function linearTicks(low: number, high: number, count: number): Tick[] {
  return stepTicks(low, high, step(low, high, count))
}

/** The multiples of a step. */
export function stepTicks(low: number, high: number, by: number): Tick[] {
  const first = Math.ceil(low / by - 1e-9)
  const last = Math.floor(high / by + 1e-9)
  if (!(low < high) || !(last - first <= 1000) || Math.max(Math.abs(first), Math.abs(last)) > 2 ** 52) return endTicks(low, high)
  const decimals = stepDecimals(by)
  const found: Tick[] = []
  for (let i = first; i <= last; i++) {
    const value = round(i * by, decimals)
    found.push({ value, label: formatNumber(value, decimals) })
  }
  return found
}

/** The ends of a domain in which no steps can be told apart. */
function endTicks(low: number, high: number): Tick[] {
  if (!Number.isFinite(low) || !Number.isFinite(high)) return []
  const ends = [low, high].map((value) => ({ value, label: formatValue(value, 6) }))
  return ends[0].label === ends[1].label ? ends.slice(0, 1) : ends
}

export function round(v: number, decimals: number): number {
  if (decimals > 15) return v
  const unit = 10 ** decimals
  const rounded = (Math.sign(v) * Math.round(Math.abs(v) * unit)) / unit
  return Number.isFinite(rounded) ? rounded + 0 : v
}

export const stepDecimals = (by: number) => Math.max(0, -Math.floor(Math.log10(by) + 1e-9))

export function logTicks(low: number, high: number, count: number): Tick[] {
  const decades = Math.log10(high) - Math.log10(low)
  if (decades < 0.7) return linearTicks(low, high, count).filter((t) => t.value > 0)
  let multiples = [1]
  if (9 * decades <= count) multiples = [1, 2, 3, 4, 5, 6, 7, 8, 9]
  else if (2.2 * decades <= count) multiples = [1, 2, 5]
  else if (1.4 * decades <= count) multiples = [1, 3]
  const stride = Math.max(1, Math.ceil(decades / count))
  const first = Math.floor(Math.log10(low))
  const last = Math.ceil(Math.log10(high))
  const found: Tick[] = []
  for (let power = Math.ceil(first / stride) * stride; power <= last; power += stride) {
    for (const multiple of multiples) {
      const value = power < 0 ? multiple / 10 ** -power : multiple * 10 ** power
      if (value >= low * (1 - 1e-9) && value <= high * (1 + 1e-9) && value <= Number.MAX_VALUE)
        found.push({ value, label: formatNumber(value, Math.max(0, -power)) })
    }
  }
  return found
}
