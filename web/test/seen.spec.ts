import { expect, test } from '@playwright/test'
import type { Figure, Selection } from '../src/figure/figure'
import type { Hit } from '../src/interact/hit'
import { EMPTY_HAND, next, NOTHING_YET, stale, type Happening, type Seen } from '../src/interact/seen'
import { WHOLE } from '../src/painter/geometry'

/** A figure of one panel whose x axis goes so far. */
const figureTo = (to: number, more: object = {}): Figure =>
  ({
    scales: [
      { id: 1, channel: 'x', column: 'a', kind: 'linear', from: 0, to },
      { id: 2, channel: 'y', column: 'b', kind: 'linear', from: 0, to: 1 },
    ],
    panels: [{ x: 0, y: 1 }],
    layers: [],
    keys: [],
    texts: [],
    ...more,
  }) as unknown as Figure

const HIT = { layer: 0, i: 3, x: 1, y: 2, radius: 3 } as unknown as Hit
const CLOSE = { u0: 0.4, u1: 0.5, v0: 0.4, v1: 0.5 }
const ALONE: Selection = { key: 1, entries: [2] }
const after = (...events: Happening[]): Seen => events.reduce(next, NOTHING_YET)
const shows = (figure: Figure): Happening => ({ kind: 'figure', figure, calm: true, now: 0 })

test('a view stays while the axes are the same, and what is pointed at goes with what was seen', () => {
  const pointing: Happening = { kind: 'mark', hit: HIT, sameX: 0.2 }
  const looked = after(shows(figureTo(9)), { kind: 'view', view: CLOSE }, pointing)
  expect([looked.view, looked.hit]).toEqual([CLOSE, HIT])
  const again = next(looked, shows(figureTo(9)))
  expect([again.view, again.hit, again.sameX]).toEqual([CLOSE, null, null])
  expect(next(looked, shows(figureTo(10))).view).toEqual(WHOLE)
  for (const event of [
    { kind: 'left' },
    { kind: 'alone', selection: ALONE },
    { kind: 'way', share: 0.5 },
    { kind: 'view', view: WHOLE },
  ] as Happening[])
    expect([next(looked, event).hit, next(looked, event).sameX]).toEqual([null, null])
  for (const event of [
    { kind: 'lit', speaks: {} },
    { kind: 'hand', hand: EMPTY_HAND },
    { kind: 'pointer', x: 1, y: 1 },
  ] as Happening[])
    expect(next(looked, event).hit).toBe(HIT)
})

test('a view that nothing could be seen in is not taken', () => {
  const whole = after(shows(figureTo(9)))
  expect(next(whole, { kind: 'view', view: { u0: 0.5, u1: 0.5, v0: 0, v1: 1 } })).toBe(whole)
})

test('more is asked for once a figure, where its dots are not exact enough for the view', () => {
  const deep = { u0: 0.5, u1: 0.5001, v0: 0.5, v1: 0.5001 }
  const coarse = after(shows(figureTo(9, { coarse: true })), { kind: 'view', view: deep })
  expect(coarse.deep).toBe(true)
  expect(next(coarse, { kind: 'view', view: WHOLE }).deep).toBe(true)
  expect(next(coarse, shows(figureTo(9, { coarse: true }))).deep).toBe(false)
  expect(after(shows(figureTo(9)), { kind: 'view', view: deep }).deep).toBe(false)
})

test('what is stale follows from what changed', () => {
  const seen = after(shows(figureTo(9)))
  const of = (event: Happening) => stale(seen, next(seen, event))
  expect(of(shows(figureTo(9)))).toBe('all')
  expect(of({ kind: 'view', view: CLOSE })).toBe('all')
  expect(of({ kind: 'alone', selection: ALONE })).toBe('all')
  expect(of({ kind: 'way', share: 0.5 })).toBe('all')
  expect(of({ kind: 'mark', hit: HIT, sameX: null })).toBe('over')
  expect(of({ kind: 'mark', hit: null, sameX: 0.5 })).toBe('over')
  expect(of({ kind: 'lit', speaks: {} as never })).toBe('over')
  expect(of({ kind: 'hand', hand: { holds: 'word', slot: 'limits-x' } })).toBe('over')
  expect(of({ kind: 'pointer', x: 3, y: 4 })).toBeNull()
  expect(of({ kind: 'left' })).toBeNull()
})

test('the same entries looked at alone once more change nothing', () => {
  const alone = after(shows(figureTo(9)), { kind: 'alone', selection: ALONE })
  expect(next(alone, { kind: 'alone', selection: { key: 1, entries: [2] } })).toBe(alone)
  expect(next(alone, { kind: 'alone', selection: null }).selection).toBeNull()
})
