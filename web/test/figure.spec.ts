import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { decodePicture, rowFinder, type Figure } from '../src/api/figure'
import { dotCard, exactNumber } from '../src/interact/card'
import { nearestDot, nearestFit } from '../src/interact/nearest'
import { frameOf, paintOrder, radiusOf, toX, toY, WHOLE } from '../src/painter/geometry'

const file = (name: string) => readFileSync(new URL(`../../contract/${name}`, import.meta.url))
const figure = () => {
  const bytes = file('figure.bin')
  return decodePicture(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer).figure
}

test('a figure decodes to what the server listed', () => {
  const listed = JSON.parse(file('figure.json').toString())
  const decoded = figure()
  const close = (got: ArrayLike<number> | null, want: (number | null)[]) => {
    expect(got?.length ?? 0).toBe(want.length)
    want.forEach((v, i) => (v === null ? expect(got![i]).toBeNaN() : expect(got![i]).toBeCloseTo(v, 5)))
  }
  for (const name of ['x', 'y', 'colour', 'shape', 'radius', 'row'] as const) close(decoded.dots[name], listed.dots[name])
  decoded.fits.forEach((fit, i) => (['x', 'y', 'low', 'high'] as const).forEach((name) => close(fit[name], listed.fits[i][name])))
  decoded.card.columns.forEach((column, i) => {
    close(column.numbers, listed.card.columns[i].numbers)
    close(column.codes, listed.card.columns[i].codes)
  })
  expect(decoded.rows).toEqual(listed.rows)
})

test('rows are found through the mask of what is left out', () => {
  const kept = [1, 2, 5, 6, 7, 8, 9, 17, 18, 21]
  const mask = new Uint8Array(3).fill(0)
  for (let row = 0; row < 24; row++) if (!kept.includes(row)) mask[row >> 3] |= 1 << (row & 7)
  const find = rowFinder({ dots: { row: null, left_out: mask } } as unknown as Figure)
  expect(kept.map((_, dot) => find(dot))).toEqual(kept)
})

test('pointing at a mark finds it, at its own place and nowhere else', () => {
  const f = figure()
  const frame = frameOf(f, f.width, f.height, WHOLE)
  for (let dot = 0; dot < f.dots.count; dot++) {
    expect(nearestDot(f, frame, null, toX(frame, f.dots.x[dot]) + 2, toY(frame, f.dots.y[dot]) - 1, 10)).toBe(dot)
    const other = f.dots.colour![dot] === 0 ? 1 : 0
    expect(nearestDot(f, frame, other, toX(frame, f.dots.x[dot]), toY(frame, f.dots.y[dot]), 1)).not.toBe(dot)
  }
  expect(nearestDot(f, frame, null, frame.left - 40, frame.top, 10)).toBe(-1)
  const overall = f.fits.find((fit) => fit.group < 0)!
  expect(nearestFit(f, frame, null, toX(frame, overall.x![50]), toY(frame, overall.y![50]) + 1, 5)?.name).toBe(overall.name)
})

test('big marks are painted before small ones', () => {
  const f = figure()
  const radii = [...paintOrder(f)!].map((dot) => radiusOf(f, dot))
  expect(radii).toEqual([...radii].sort((a, b) => b - a))
})

test('a card shows exact values, with units and marks between thousands', () => {
  const card = dotCard(figure(), 1)!
  expect(card.heading).toBe('P2')
  expect(card.facts[0]).toEqual({ name: 'y', value: '2' })
  expect([1234567.891, -0.1, 3].map(exactNumber)).toEqual(['1,234,567.891', '−0.1', '3'])
})
