/** Ticks at steps that were said, at powers of a base, about zero, and in forms. The twin of core/scale/said.go. */
import { sayDuration } from './duration'
import { formatNumber, formatValue, pence, MINUS, superscript } from './format'
import { linearTicks, logTicks, round, type Scale, type Tick } from './ticks'

const MOST_SAID_TICKS = 100

/** Ticks at the multiples of a step that was said; null where none was, or where it gives none or too many. */
export function everyTicks(s: Scale, low: number, high: number): Tick[] | null {
  if (s.at?.length && s.kind !== 'groups' && s.kind !== 'date')
    return [...new Set(s.at)]
      .sort((a, b) => a - b)
      .filter((v) => v >= low && v <= high && (s.kind !== 'log' || v > 0))
      .map((value) => ({ value, label: formatValue(value, 6) }))
  const every = s.every ?? 0
  if (!(every > 0) || s.kind === 'groups' || s.kind === 'date') return null
  const first = Math.ceil(low / every - 1e-9)
  const last = Math.floor(high / every + 1e-9)
  if (!(last - first < MOST_SAID_TICKS) || last < first || Math.max(Math.abs(first), Math.abs(last)) > 2 ** 52) return null
  const decimals = saidDecimals(every)
  const found: Tick[] = []
  for (let i = first; i <= last; i++) {
    const value = round(i * every, decimals)
    if (s.kind !== 'log' || value > 0) found.push({ value, label: formatNumber(value, decimals) })
  }
  return found
}

function saidDecimals(step: number): number {
  for (let decimals = 0; decimals < 8; decimals++) {
    const scaled = step * 10 ** decimals
    if (Math.abs(scaled - Math.round(scaled)) < 1e-9 * scaled) return decimals
  }
  return 8
}

export function baseTicks(low: number, high: number, base: number, count: number): Tick[] {
  const unit = Math.log10(base)
  const first = Math.ceil(Math.log10(low) / unit - 1e-9)
  const last = Math.floor(Math.log10(high) / unit + 1e-9)
  if (last - first < 1) return logTicks(low, high, count)
  const stride = Math.max(1, Math.ceil((last - first) / count))
  const found: Tick[] = []
  for (let power = Math.ceil(first / stride) * stride; power <= last; power += stride) {
    const value = base ** power
    if (value > 0 && Number.isFinite(value)) found.push({ value, label: powerLabel(base, power, value) })
  }
  return found
}

/** A power of a base; those of e, which have no end, and those with more than six digits by their exponent. */
function powerLabel(base: number, power: number, value: number): string {
  if (base !== Math.E && value < 1e6 && value > 1e-4) return formatValue(value, 4)
  const name = base === Math.E ? 'e' : formatValue(base, 6)
  return power === 0 ? '1' : power === 1 ? name : name + superscript(power)
}

export function nearTicks(s: Scale, low: number, high: number, count: number): Tick[] {
  const near = s.near || 1
  if (Math.max(Math.abs(low), Math.abs(high)) <= 4 * near) return linearTicks(low, high, count)
  const powers = (most: number) => Math.max(0, Math.floor(Math.log10(most) - Math.log10(near) + 1e-9))
  const up = high > near ? powers(high) : 0
  const down = low < -near ? powers(-low) : 0
  const stride = Math.max(1, Math.ceil((up + down + 1) / count))
  const found: Tick[] = []
  const add = (value: number) => value >= low && value <= high && found.push({ value, label: formatValue(value, 4) })
  for (let power = Math.floor(down / stride) * stride; power >= 0 && low < 0; power -= stride) add(-near * 10 ** power)
  add(0)
  for (let power = 0; power <= up && high > 0; power += stride) add(near * 10 ** power)
  return found
}

/** Writes the labels of ticks in the form that was said. */
export const formed = (s: Scale, ticks: Tick[]): Tick[] =>
  s.form ? ticks.map((t) => ({ value: t.value, label: inForm(s.form!, t.value, t.label) })) : ticks

export function inForm(form: string, v: number, plain: string): string {
  const [name, ...more] = form.split(' ')
  if (name === 'currency') return pence(plain).replace(new RegExp(`^${MINUS}?`), (sign) => sign + more.join(' '))
  if (name === 'decimals') return formatNumber(v, Number(more[0]))
  if (form === 'percent') return formatValue(100 * v, 6) + ' %'
  if (form === 'plain') return plain.replaceAll(',', '')
  if (form === 'duration') return sayDuration(v) || plain
  if (form !== '120k') return plain
  for (const [size, name] of [
    [1e9, 'bn'],
    [1e6, 'M'],
    [1e3, 'k'],
  ] as const)
    if (Math.abs(v) >= size && Math.abs(v) < 1e15) return formatValue(v / size, 4) + name
  return formatValue(v, 4)
}
