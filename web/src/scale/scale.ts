/**
 * Scales and ticks for a moving mouse. The twin of core/scale; contract/ticks.json
 * holds both to the same ticks.
 */
import { dateTicks } from './date'
import { durationTicks, logDurationTicks } from './duration'
import { baseTicks, everyTicks, formed, nearTicks } from './said'
import { linearTicks, logTicks, type Scale, type Tick } from './ticks'

export type { Scale, ScaleKind, Tick } from './ticks'

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
