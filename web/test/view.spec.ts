import { expect, test } from '@playwright/test'
import { parseClauses, printClauses } from '../src/features/data/clauses'
import { rowCard, withUnit } from '../src/interact/card'
import type { Figure } from '../src/figure/figure'
import { frameOf, fromX, fromY, isWhole, toX, toY, WHOLE } from '../src/painter/geometry'
import { wider } from '../src/interact/zoom'

const figure = {
  width: 900,
  height: 500,
  panels: [{ box: { left: 60, top: 20, width: 800, height: 430 }, x: 0, y: 1 }],
} as unknown as Figure

test('a place on the canvas and a position are each other’s inverse, zoomed and resized', () => {
  for (const [width, height] of [
    [900, 500],
    [1400, 300],
  ]) {
    for (const view of [WHOLE, { u0: 0.2, u1: 0.3, v0: -0.5, v1: 1.5 }]) {
      const f = frameOf(figure, 0, width, height, view)
      for (const p of [0, 0.25, 0.999]) {
        expect(fromX(f, toX(f, p))).toBeCloseTo(p, 12)
        expect(fromY(f, toY(f, p))).toBeCloseTo(p, 12)
      }
      expect(toX(f, view.u0)).toBeCloseTo(f.left, 9)
      expect(toX(f, view.u1)).toBeCloseTo(f.left + f.width, 9)
      expect(toY(f, view.v0)).toBeCloseTo(f.top + f.height, 9)
      expect(toY(f, view.v1)).toBeCloseTo(f.top, 9)
      expect(f.width).toBe(800 + width - 900)
    }
  }
  expect(isWhole(WHOLE)).toBe(true)
})

test('panels keep their margins and share what is between them', () => {
  const boxes = [60, 500].map((left) => ({ box: { left, top: 20, width: 380, height: 430 }, x: 0, y: 1 }))
  const two = { width: 900, height: 500, panels: boxes } as unknown as Figure
  const [a, b] = [0, 1].map((panel) => frameOf(two, panel, 1310, 500, WHOLE))
  expect([a.left, a.width, b.left - a.left - a.width, 1310 - b.left - b.width]).toEqual([60, 570, 90, 20])
})

test('units stand where people write them', () => {
  expect(withUnit('12', 'kg')).toBe('12 kg')
  expect(withUnit('12', '%')).toBe('12 %')
  expect(withUnit('12', '£')).toBe('£12')
  expect(withUnit('12.5', '£')).toBe('£12.50')
  expect(withUnit('12.5', 'kg')).toBe('12.5 kg')
  expect(withUnit('12')).toBe('12')
})

test('a card of asked-for values reads as one that the figure carries', () => {
  const columns = [
    { column: 'stand', name: 'Stand', kind: 'text', numbers: null, codes: null },
    { column: 'kg', name: 'Honey', unit: 'kg', kind: 'number', numbers: null, codes: null },
    { column: 'day', name: 'Day', kind: 'date', numbers: null, codes: null },
  ]
  const card = rowCard({ card: { heading: 'stand', columns } } as unknown as Figure, { stand: '<b>A</b>', kg: '1234.5', day: '' })
  expect(card).toEqual({
    heading: '<b>A</b>',
    facts: [
      { name: 'Honey', value: '1,234.5 kg' },
      { name: 'Day', value: 'missing' },
    ],
  })
})

test('a preparation is typed and listed in the same words', () => {
  const typed = 'leave out missing kg\noff keep kg > 3\nsort by kg\n'
  expect(printClauses(parseClauses(typed))).toBe(typed)
  expect(parseClauses('\n  OFF  keep a > 1 \r\n\n')).toEqual([{ text: 'keep a > 1', off: true }])
  expect(parseClauses('offer = 3')).toEqual([{ text: 'offer = 3' }])
})

test('to all data leads beyond the limits that are set, and only where rows lie there', () => {
  const figure = (outside: number) =>
    ({ rows: { outside }, layers: [{ primitive: 'points', x: Float32Array.of(-0.5, 0.2, 0.9), y: Float32Array.of(0.1, 3, NaN) }] }) as never
  const view = wider(figure(2))!
  expect(view.u0).toBeLessThan(-0.5)
  expect(view.u1).toBe(1)
  expect(view.v0).toBe(0)
  expect(view.v1).toBeGreaterThan(3)
  expect(wider(figure(0))).toBeNull()
})
