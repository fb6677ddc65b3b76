import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { formatNumber, formatValue } from '../src/scale/format'
import { inForm } from '../src/scale/said'
import { drawn, part, position, ticks, undrawn, valueAt, type Scale, type Tick } from '../src/scale/scale'

const contract = <T>(name: string): T => JSON.parse(readFileSync(new URL(`../../contract/${name}`, import.meta.url), 'utf8'))

for (const c of contract<{ name: string; scale: Scale; count: number; ticks: Tick[] }[]>('ticks.json')) {
  test(`ticks as the server makes them: ${c.name}`, () => {
    const got = ticks(c.scale, c.count)
    expect(got.map((t) => t.label)).toEqual(c.ticks.map((t) => t.label))
    got.forEach((t, i) => expect(Math.abs(t.value - c.ticks[i].value)).toBeLessThanOrEqual(1e-12 * Math.abs(t.value)))
  })
}

test('numbers as the server writes them', () => {
  for (const c of contract<{ value: number; decimals: number; number: string; four_digits: string }[]>('numbers.json')) {
    expect(formatNumber(c.value, c.decimals)).toBe(c.number)
    expect(formatValue(c.value, 4)).toBe(c.four_digits)
  }
})

test('durations as the server says them', () => {
  for (const c of contract<{ seconds: number; said: string }[]>('durations.json'))
    expect(inForm('duration', c.seconds, 'no duration')).toBe(c.said)
})

test('a near-linear scale is about linear near zero, a logarithm far from it, and goes back', () => {
  const scale: Scale = { kind: 'near-linear', from: -1e6, to: 1e6, near: 10 }
  expect(drawn(scale, 0)).toBe(0)
  expect(drawn(scale, 1)).toBeCloseTo(1 / (2 * 10 * Math.LN10), 4) // v / (2 near ln 10)
  expect(drawn(scale, 1e5)).toBeCloseTo(4, 4) // log10(|v| / near)
  expect(drawn(scale, -1e5)).toBeCloseTo(-4, 4)
  expect(drawn(scale, 1e12)).toBeCloseTo(11, 12) // beyond where asinh is a logarithm to all digits
  for (const v of [-1e300, -5, 0, 1e-9, 3, 1e7, 1e300]) expect(undrawn(scale, drawn(scale, v)) / (v || 1)).toBeCloseTo(v ? 1 : 0, 9)
})

test('a part of a scale maps its ends to the ends', () => {
  for (const scale of [
    { kind: 'log', from: 1, to: 1000 },
    { kind: 'linear', from: 40, to: -10 },
  ] satisfies Scale[]) {
    const window = part(scale, 0.25, 0.75)
    expect(position(scale, window.from)).toBeCloseTo(0.25, 12)
    expect(position(scale, window.to)).toBeCloseTo(0.75, 12)
    expect(position(window, valueAt(scale, 0.5))).toBeCloseTo(0.5, 12)
  }
})
