/** Ticks on a date axis, in seconds since 1970 (UTC). The twin of core/scale/date.go. */
import { linearTicks, step, stepDecimals, type Tick } from './ticks'

const MINUTE = 60
const HOUR = 3600
const DAY = 86400
const MONTH = 30.44 * DAY

/** [whole months, seconds] */
const STEPS: [number, number][] = [
  ...[1, 5, 15, 30, MINUTE, 5 * MINUTE, 15 * MINUTE, 30 * MINUTE, HOUR, 3 * HOUR, 6 * HOUR, 12 * HOUR, DAY, 2 * DAY, 7 * DAY, 14 * DAY].map(
    (s): [number, number] => [0, s],
  ),
  ...[1, 3, 6, 12, 24, 60, 120, 300, 600, 1200, 2400, 6000, 12000, 24000].map((m): [number, number] => [m, m * MONTH]),
]

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** The first second of the year 1, the last of 9999. */
const EARLIEST = -62135596800
const LATEST = 253402300799

export function dateTicks(low: number, high: number, count: number): Tick[] {
  low = Math.max(low, EARLIEST)
  high = Math.min(high, LATEST)
  const rough = (high - low) / count
  if (rough < 0.5) return fractionTicks(low, high, count)
  const chosen = STEPS.findIndex(
    ([, seconds], i) => seconds >= rough * 0.999 || (i + 1 < STEPS.length && Math.sqrt(seconds * STEPS[i + 1][1]) > rough),
  )
  const [months, seconds] = STEPS[chosen < 0 ? STEPS.length - 1 : chosen]
  const found: Tick[] = []
  let previous: Date | null = null
  for (let at = firstTick(low, months, seconds); at <= high && found.length <= 1000; at = nextTick(at, months, seconds)) {
    if (at < low) continue
    const moment = new Date(at * 1000)
    found.push({ value: at, label: dateLabel(moment, previous, months, seconds) })
    previous = moment
  }
  return found
}

/** How many digits of a second are written: no more are kept of today's dates. */
const MOST_FRACTION = 6

/** Ticks at round fractions of a second; the first of them says the day. */
function fractionTicks(low: number, high: number, count: number): Tick[] {
  const digits = Math.min(stepDecimals(step(low, high, count)), MOST_FRACTION)
  const unit = 10 ** digits
  const found: Tick[] = []
  let last = ''
  for (const { value } of linearTicks(low, high, count)) {
    const whole = Math.floor(value + 0.5 / unit)
    const fraction = Math.max(Math.floor((value - whole) * unit + 0.5), 0)
    const moment = new Date(whole * 1000)
    const clock = `${two(moment.getUTCHours())}:${two(moment.getUTCMinutes())}:${two(moment.getUTCSeconds())}`
    const label = digits > 0 ? `${clock}.${String(fraction).padStart(digits, '0')}` : clock
    if (label === last) continue // nearer than can be told
    last = label
    found.push({ value, label: found.length ? label : `${moment.getUTCDate()} ${MONTHS[moment.getUTCMonth()]} ${label}` })
  }
  return found
}

function firstTick(low: number, months: number, seconds: number): number {
  if (months > 0) {
    const start = new Date(Math.floor(low) * 1000)
    const count = start.getUTCFullYear() * 12 + start.getUTCMonth()
    return monthStart(count - (((count % months) + months) % months))
  }
  if (seconds >= 7 * DAY) {
    const monday = 4 * DAY // 1970-01-05 was one
    return monday + Math.floor((low - monday) / seconds) * seconds
  }
  return Math.floor(low / seconds) * seconds
}

function monthStart(count: number): number {
  const date = new Date(0)
  date.setUTCFullYear(Math.floor(count / 12), ((count % 12) + 12) % 12, 1)
  return date.getTime() / 1000
}

function nextTick(at: number, months: number, seconds: number): number {
  if (months === 0) return at + seconds
  const date = new Date(at * 1000)
  return monthStart(date.getUTCFullYear() * 12 + date.getUTCMonth() + months)
}

const two = (n: number) => String(n).padStart(2, '0')

function dateLabel(moment: Date, previous: Date | null, months: number, seconds: number): string {
  const year = moment.getUTCFullYear()
  const newYear = previous === null || previous.getUTCFullYear() !== year
  const newDay = newYear || previous.toISOString().slice(0, 10) !== moment.toISOString().slice(0, 10)
  const month = MONTHS[moment.getUTCMonth()]
  const day = `${moment.getUTCDate()} ${month}`
  const clock = `${two(moment.getUTCHours())}:${two(moment.getUTCMinutes())}`
  if (months >= 12) return String(year).padStart(4, '0')
  if (months > 0) return newYear ? `${month} ${year}` : month
  if (seconds >= DAY) return newYear ? `${day} ${year}` : day
  if (newDay) return `${day} ${clock}`
  return seconds >= MINUTE ? clock : `${clock}:${two(moment.getUTCSeconds())}`
}
