/** What a scale is, and ticks of numbers at round steps and powers. The twin of core/scale/scale.go. */
import { formatNumber, formatValue } from './format'

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
