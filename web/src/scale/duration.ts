/** Durations, in seconds: how they are said, and their ticks. The twin of core/table/duration.go and core/scale/duration.go. */
import { formatValue } from './format'
import { linearTicks, logTicks, step, stepTicks, type Tick } from './ticks'

const DAY = 86400
const STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 10800, 21600, 43200, DAY]
const LOG = [1, 10, 60, 600, 3600, 21600, DAY, 10 * DAY, 100 * DAY, 1000 * DAY, 10000 * DAY]
const UNITS: [string, number][] = [
  ['d', DAY],
  ['h', 3600],
  ['min', 60],
  ['s', 1],
]
const LONGEST = 1e13

const rounded = (v: number) => Math.floor(v + 0.5)
const grouped = (n: number) => String(n).replace(/\B(?=(\d{3})+$)/g, ',')

/** Seconds for people, in at most three units; nothing for what is no duration. */
export function sayDuration(seconds: number): string {
  let rest = Math.abs(seconds)
  if (!(rest <= LONGEST)) return ''
  const sign = seconds < 0 ? '−' : ''
  if (rest < 60) {
    rest = rest >= 1e-3 ? rounded(1000 * rest) / 1000 : Number(rest.toPrecision(3))
    const text = rest.toFixed(12).replace(/\.?0+$/, '')
    if (rest < 60) return text === '0' ? '0 s' : `${sign}${text} s`
  } else if (rest >= 2 * DAY) rest = 60 * rounded(rest / 60)
  rest = rounded(rest)
  const parts: string[] = []
  for (const [name, size] of UNITS) {
    if (name === 'd' && rest < 2 * DAY) continue
    const n = Math.floor(rest / size)
    if (n === 0) continue
    parts.push(`${grouped(n)} ${name}`)
    rest -= n * size
  }
  return sign + parts.join(' ')
}

/** About count ticks at round hours, minutes or seconds. */
export function durationTicks(low: number, high: number, count: number): Tick[] {
  const rough = high / count - low / count
  if (rough < 0.5) return linearTicks(low, high, count)
  const at = STEPS.findIndex((s, i) => s >= rough * 0.999 || (i + 1 < STEPS.length && Math.sqrt(s * STEPS[i + 1]) > rough))
  return stepTicks(low, high, at < 0 ? DAY * step(low / DAY, high / DAY, count) : STEPS[at])
}

/** At most about count ticks on a log scale; within two, those of a linear scale. */
export function logDurationTicks(low: number, high: number, count: number): Tick[] {
  if (low < LOG[0] / 10 || high > 10 * LOG[LOG.length - 1]) return logTicks(low, high, count)
  const within = LOG.filter((v) => v >= low * (1 - 1e-9) && v <= high * (1 + 1e-9))
  if (within.length < 2) return durationTicks(low, high, count).filter((t) => t.value > 0)
  const stride = Math.ceil(within.length / count)
  return within.filter((_, i) => i % stride === 0).map((value) => ({ value, label: formatValue(value, 6) }))
}
