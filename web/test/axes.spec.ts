import { expect, test } from '@playwright/test'
import type { Figure } from '../src/figure/figure'
import { paintGrid, paintTicks, paintWords } from '../src/painter/axes'
import { frameOf, WHOLE } from '../src/painter/geometry'
import { LIGHT } from '../src/painter/theme'
import { Recorder } from './recorder'

const scale = (channel: string, labels: string[]) => ({
  channel,
  kind: 'linear',
  from: 0,
  to: 10,
  tick_count: 3,
  ticks: labels.map((label, i) => ({ value: (10 * i) / (labels.length - 1), label })),
})

/** A panel of 100 by 100 pixels from 20, 10 on. */
const figure = (manner: object = {}, y: object = {}, x: object = {}): Figure =>
  ({
    width: 140,
    height: 140,
    scales: [
      { ...scale('x', ['0', '5', '10']), ...x },
      { ...scale('y', ['0', '5', '10']), ...y },
    ],
    panels: [{ box: { left: 20, top: 10, width: 100, height: 100 }, x: 0, y: 1, labels: { x: true, y: true } }],
    layers: [],
    keys: [],
    texts: [
      { role: 'axis', axis: 'x', panel: -1, x: 70, y: 130, anchor: 'middle', size: 12, bold: true, text: 'Forage' },
      { role: 'axis', axis: 'y', panel: -1, x: 8, y: 60, anchor: 'middle', turn: -90, size: 12, bold: true, text: 'Honey' },
    ],
    manner,
  }) as unknown as Figure

const painted = (f: Figure, paint: (c: CanvasRenderingContext2D, f: Figure) => unknown): string[] => {
  const recorder = new Recorder()
  paint(recorder.context, f)
  return recorder.calls
}
const grid = (f: Figure) =>
  painted(f, (c) => paintGrid(c, f, 0, frameOf(f, 0, 140, 140, WHOLE), LIGHT)).filter((call) => /^(moveTo|lineTo)/.test(call))
const written = (f: Figure) =>
  painted(f, (c) => paintTicks(c, f, 0, frameOf(f, 0, 140, 140, WHOLE), LIGHT)).filter((call) => call.startsWith('fillText'))

test('lines of the grid stand at ticks, between them where halves are said, and nowhere where it is off', () => {
  expect(grid(figure())).toHaveLength(2 * 6)
  expect(grid(figure())).toContain('moveTo(20, 60.5)')
  expect(grid(figure())).toContain('lineTo(70.5, 110)')
  expect(grid(figure({ grid: 'halves' }))).toHaveLength(2 * 10)
  expect(grid(figure({ grid: 'halves' }))).toContain('moveTo(20, 85.5)')
  expect(grid(figure({ grid: 'off' }))).toEqual([])
  expect(grid(figure({ grid: 'off', lines: true }))).toHaveLength(2 * (2 + 6)) // both axes, and a stroke at each tick
  expect(grid(figure({}, { kind: 'groups' }))).toHaveLength(2 * 3) // between groups there is nothing to read
})

test('labels stand at their ticks, one never over another, and only as many as the layout left', () => {
  expect(written(figure())).toEqual([
    'fillText("0", 12, 110)',
    'fillText("5", 12, 60)',
    'fillText("10", 12, 10)',
    'fillText("0", 20, 125.5)',
    'fillText("5", 70, 125.5)',
    'fillText("10", 120, 125.5)',
  ])
  const long = figure({}, {}, scale('x', ['a long name', 'a longer name', 'the last']))
  expect(written(long).filter((call) => call.includes('name') || call.includes('last'))).toEqual([
    'fillText("a long name", 20, 125.5)',
    'fillText("the last", 120, 125.5)',
  ])
  expect(written(figure({}, { skip: 2 })).slice(0, 2)).toEqual(['fillText("0", 12, 110)', 'fillText("10", 12, 10)'])
  expect(written(figure({}, scale('y', ['two\nlines', '5', '10']))).slice(0, 2)).toEqual([
    'fillText("two", 12, 102.5)',
    'fillText("lines", 12, 117.5)',
  ])
})

test('an axis whose labels need the room goes without its title', () => {
  const words = (without: 'x' | 'y' | null) =>
    painted(figure(), (c, f) => paintWords(c, f, 140, 140, LIGHT, without)).filter((call) => call.startsWith('fillText'))
  expect(words(null)).toEqual(['fillText("Forage", 0, 0)', 'fillText("Honey", 0, 0)'])
  expect(words('y')).toEqual(['fillText("Forage", 0, 0)'])
})
