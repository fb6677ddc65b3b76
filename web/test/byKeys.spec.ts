import { expect, test } from '@playwright/test'
import type { Figure, Layer } from '../src/figure/figure'
import { ByKeys, type Chart } from '../src/interact/byKeys'
import type { Hit } from '../src/interact/hit'
import { kindsOf } from '../src/interact/walk'
import { frameOf, WHOLE, type View } from '../src/painter/geometry'

const f32 = (...values: number[]) => Float32Array.from(values)
const figure = {
  width: 100,
  height: 100,
  panels: [{ box: { left: 0, top: 0, width: 100, height: 100 }, x: 0, y: 1 }],
  keys: [],
  layers: [
    { mark: 'dots', primitive: 'points', rows: true, first: 0, x: f32(0.1, 0.4, 0.9), y: f32(0.2, 0.8, 0.5), count: 3 },
    { mark: 'fit', primitive: 'areas', x: f32(0.1, 0.9), y: f32(0.1, 0.2), start: f32(0), count: 1 },
    { mark: 'fit', primitive: 'paths', x: f32(0.1, 0.9), y: f32(0.3, 0.6), start: f32(0), count: 1, cards: [{ facts: [] }] },
    { mark: 'reference', primitive: 'segments', x: f32(0), y: f32(0.5), count: 1, cards: [{ facts: [] }] },
  ].map((l) => ({ panel: 0, style: {}, keys: {}, ...l })) as unknown as Layer[],
} as unknown as Figure

/** A chart that remembers what keys did to it. */
function chart() {
  const did = {
    view: WHOLE as View,
    hit: null as Hit | null,
    said: [] as string[],
    chosen: [] as number[],
    pressed: 0,
    zoomed: [] as unknown[],
    left: 0,
  }
  const of: Chart = {
    figure: () => figure,
    selection: () => null,
    hit: () => did.hit,
    view: () => did.view,
    frames: () => [frameOf(figure, 0, 100, 100, did.view)],
    look: (view) => void (did.view = view),
    zoom: (factor, at) => void did.zoomed.push([factor, at?.i]),
    reset: () => void (did.view = WHOLE),
    point: (hit) => void (did.hit = hit),
    press: () => void did.pressed++,
    choose: (rows) => void (did.chosen = rows),
    leave: () => Boolean(did.left++ < 1),
    say: (words) => void did.said.push(words),
    told: () => `mark ${did.hit?.layer}:${did.hit?.i}`,
  }
  const keys = new ByKeys(of)
  const press = (key: string, more: Partial<KeyboardEvent> = {}) => keys.press({ key, ...more } as KeyboardEvent)
  return { did, press }
}

test('kinds of marks that can be walked: rows, then what else has a card, by what it is called', () => {
  expect(kindsOf(figure)).toEqual([
    { name: 'rows', layers: [0] },
    { name: 'fits', layers: [2] },
    { name: 'reference lines', layers: [3] },
  ])
  expect(kindsOf({ ...figure, layers: [] })).toEqual([])
})

test('arrows, Home and End walk the marks, Page Down turns to another kind, and each is said', () => {
  const { did, press } = chart()
  for (const key of ['Home', 'ArrowRight', 'End', 'ArrowUp', 'PageDown', 'PageUp']) expect(press(key)).toBe(true)
  expect(did.said).toEqual(['mark 0:0', 'mark 0:1', 'mark 0:2', 'mark 0:1', 'fits: mark 2:0', 'rows: mark 0:0'])
  expect(press('x')).toBe(false)
  expect(press('ArrowRight', { ctrlKey: true })).toBe(false)
})

test('a mark that is walked to comes into sight; Shift moves what is seen, plus zooms about the mark', () => {
  const { did, press } = chart()
  did.view = { u0: 0, u1: 0.2, v0: 0, v1: 0.3 }
  press('End')
  expect(did.view.u1).toBeGreaterThan(0.9)
  expect(did.view.u1 - did.view.u0).toBeCloseTo(0.2)
  expect(did.view.v1).toBeGreaterThan(0.5)
  const before = did.view
  press('ArrowLeft', { shiftKey: true })
  expect(did.view.u0).toBeCloseTo(before.u0 - 0.04)
  expect(did.view.v0).toBe(before.v0)
  press('+')
  expect(did.zoomed).toEqual([[1 / 1.5, 2]])
  press('0')
  expect(did.view).toEqual(WHOLE)
})

test('Enter presses a mark, B twice chooses a box, A all that are seen, Escape leaves while there is something to leave', () => {
  const { did, press } = chart()
  expect(press('Enter')).toBe(false) // nothing is pointed at
  press('Home')
  expect(press('Enter')).toBe(true)
  expect(did.pressed).toBe(1)
  press('b')
  expect(did.said.at(-1)).toContain('One corner is here')
  press('ArrowRight')
  press('B')
  expect(did.chosen).toEqual([0, 1])
  expect(did.said.at(-1)).toBe('2 rows chosen')
  did.view = { u0: 0.3, u1: 1, v0: 0, v1: 0.6 }
  press('a')
  expect(did.chosen).toEqual([2])
  expect(did.said.at(-1)).toBe('1 row chosen')
  expect(press('Escape')).toBe(true)
  expect(press('Escape')).toBe(false)
})
