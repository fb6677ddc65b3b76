import { expect, test } from '@playwright/test'
import type { Figure, Layer } from '../src/figure/figure'
import { pointCard, sameXCard } from '../src/interact/card'
import { rowsInside, within, type Outline } from '../src/interact/choose'
import { compareCard, freeCell } from '../src/interact/compare'
import { Fingers } from '../src/interact/fingers'
import { distanceToSegment, hitAt, nearestPath, pathAt } from '../src/interact/hit'
import { cardWords } from '../src/interact/pins'
import { slideBetween } from '../src/interact/slide'
import { stepOf } from '../src/interact/steps'
import { kindsOf, Walk } from '../src/interact/walk'
import { allowed, panned, zoomed } from '../src/interact/zoom'
import { frameOf, WHOLE } from '../src/painter/geometry'

const f32 = (...values: number[]) => Float32Array.from(values)

/** A figure of one panel: 100 pixels to each tenth, from 0 to 10 along both axes. */
function figure(...layers: Partial<Layer>[]): Figure {
  return {
    width: 1000,
    height: 1000,
    panels: [{ box: { left: 0, top: 0, width: 1000, height: 1000 }, x: 0, y: 1 }],
    scales: ['x', 'y'].map((channel) => ({ channel, kind: 'linear', from: 0, to: 10, unit: channel === 'y' ? 'kg' : '' })),
    keys: [{ channels: ['colour'], name: 'District', entries: [{ name: 'Tarn' }, { name: 'Fen' }] }],
    layers: layers.map((l) => ({ panel: 0, mark: 'dots', style: {}, keys: {}, count: l.x?.length ?? 0, ...l })),
    card: { columns: [] },
  } as unknown as Figure
}

const frames = (f: Figure) => [frameOf(f, 0, f.width, f.height, WHOLE)]
const cards = (n: number) => Array.from({ length: n }, (_, i) => ({ heading: `mark ${i}`, facts: [] }))
const dots: Partial<Layer> = {
  primitive: 'points',
  rows: true,
  x: f32(0.1, 0.5, 0.505, 0.9),
  y: f32(0.1, 0.5, 0.5, 0.9),
  style: { fixed_radius: 5, largest_radius: 5 } as Layer['style'],
}

test('of points that are as near, the one that is drawn last is found: it lies on top', () => {
  const at = f32(0.5, 0.5, 0.2)
  const f = figure({ ...dots, x: at, y: at })
  expect(hitAt(f, frames(f), null, 500, 500, 18)?.i).toBe(1)
  const turned = figure({ ...dots, x: f32(0.49, 0.51), y: f32(0.5, 0.5) })
  expect(hitAt(turned, frames(turned), null, 500, 500, 18)?.i).toBe(1)
})

test('what lies on top is found first, and a point from some way off', () => {
  const f = figure(
    { primitive: 'rects', mark: 'bars', x: f32(0.4), y: f32(0), x2: f32(0.6), y2: f32(0.6), count: 1, cards: cards(1) },
    dots,
  )
  const at = (x: number, y: number, reach = 18) => {
    const hit = hitAt(f, frames(f), null, x, y, reach)
    return hit && [f.layers[hit.layer].mark, hit.i]
  }
  expect(at(500, 500)).toEqual(['dots', 1])
  expect(at(506, 500)).toEqual(['dots', 2])
  expect(at(520, 500)).toEqual(['bars', 0]) // near the dot, but on the bar
  expect(at(560, 700)).toEqual(['bars', 0])
  expect(at(115, 900)).toEqual(['dots', 0])
  expect(at(130, 900)).toBeNull()
  expect(at(115, 900, 4)).toBeNull()
  expect(at(-5, 500)).toBeNull()
})

test('each primitive is found where it is painted', () => {
  const found = (layer: Partial<Layer>, x: number, y: number) => {
    const f = figure({ cards: cards(3), ...layer })
    return hitAt(f, frames(f), null, x, y, 18)?.i ?? null
  }
  const path: Partial<Layer> = {
    primitive: 'paths',
    x: f32(0, 0.5, 1, 0, 1),
    y: f32(0, 1, 0, 0.1, 0.1),
    start: Uint32Array.of(0, 3),
    count: 2,
  }
  expect(found(path, 250, 500)).toBe(0)
  expect(found(path, 255, 507)).toBe(0) // loosely
  expect(found(path, 600, 901)).toBe(1)
  expect(found(path, 500, 500)).toBeNull()
  const segment: Partial<Layer> = {
    primitive: 'segments',
    x: f32(0.2, 0.8),
    y: f32(0.1, 0.1),
    x2: f32(0.2, 0.8),
    y2: f32(0.9, 0.2),
    count: 2,
  }
  expect(found(segment, 202, 400)).toBe(0)
  expect(found(segment, 802, 400)).toBeNull()
  const ring: Partial<Layer> = {
    primitive: 'polygons',
    x: f32(0.1, 0.3, 0.3, 0.1),
    y: f32(0.1, 0.1, 0.3, 0.3),
    start: Uint32Array.of(0),
    count: 1,
  }
  expect(found(ring, 200, 800)).toBe(0)
  expect(found(ring, 320, 800)).toBeNull()
  const thin: Partial<Layer> = { primitive: 'rects', x: f32(0.1), y: f32(0), x2: f32(0.2), y2: f32(0), count: 1 }
  expect(found(thin, 150, 999)).toBe(0) // a bar of nothing still says so
})

test('what is not shown cannot be pointed at, nor walked to', () => {
  const colour = Uint8Array.of(0, 1, 0, 1)
  const f = figure({ ...dots, colour, keys: { colour: 1 } as Layer['keys'] })
  const alone = { key: 1, entries: [1] } // keys are counted from 1
  expect(hitAt(f, frames(f), alone, 500, 500, 18)?.i).toBe(1)
  expect(hitAt(f, frames(f), alone, 100, 900, 18)).toBeNull()
  const walk = new Walk(f, alone, kindsOf(f)[0].layers)
  expect([walk.step(null, 'x', 1)?.i, walk.step({ layer: 0, i: 1 }, 'x', 1)?.i, walk.step({ layer: 0, i: 3 }, 'x', 1)?.i]).toEqual([
    1, 3, 3,
  ])
})

test('arrow keys walk along each axis and stay at its ends', () => {
  const strewn = figure({ ...dots, x: f32(0.3, 0.1, 0.2, 0.1), y: f32(0.1, 0.2, 0.3, 0.4) })
  const walk = new Walk(strewn, null, kindsOf(strewn)[0].layers)
  const path = (along: 'x' | 'y', by: 1 | -1) => {
    let at = walk.step(null, along, by)
    const seen = [at!.i]
    for (let k = 0; k < 4; k++) seen.push((at = walk.step(at, along, by))!.i)
    return seen
  }
  expect(path('x', 1)).toEqual([1, 3, 2, 0, 0])
  expect(path('x', -1)).toEqual([0, 2, 3, 1, 1])
  expect(path('y', 1)).toEqual([0, 1, 2, 3, 3])
  expect(new Walk(figure(), null, []).step(null, 'x', 1)).toBeNull()
})

test('a path has a value where it passes, and none beside it or in a gap', () => {
  const layer = { x: f32(0, 0.5, 0.7, 0.7, 1), y: f32(0, 1, 0.2, 0.4, NaN), start: Uint32Array.of(0), count: 1 } as unknown as Layer
  expect(pathAt(layer, 0, 0.25)).toBeCloseTo(0.5, 6)
  expect(pathAt(layer, 0, 0.5)).toBeCloseTo(1, 6)
  expect(pathAt(layer, 0, 0.8)).toBeNaN()
  expect(pathAt(layer, 0, 1.01)).toBeNull()
  expect(pathAt(layer, 0, -0.01)).toBeNull()
  const f = figure()
  expect(
    nearestPath({ ...layer, x: f32(0.5), y: f32(0.5), start: Uint32Array.of(0) } as Layer, frames(f)[0], () => true, 500, 500, 3),
  ).toBe(-1) // one vertex is no line
})

test('distances to a segment end at its ends', () => {
  for (const [x, y, want] of [
    [5, 3, 3],
    [-3, 4, 5],
    [13, 4, 5],
    [0, 0, 0],
  ])
    expect(distanceToSegment(x, y, 0, 0, 10, 0)).toBeCloseTo(want, 12)
  expect(distanceToSegment(3, 4, 0, 0, 0, 0)).toBe(5)
})

test('zooming keeps the place under the pointer, and what undoes it undoes it', () => {
  const view = { u0: 0.2, u1: 0.6, v0: 0, v1: 1 }
  for (const factor of [0.5, 0.9, 1.7]) {
    const closer = zoomed(view, factor, 0.3, 0.25)
    expect((0.3 - closer.u0) / (closer.u1 - closer.u0)).toBeCloseTo((0.3 - view.u0) / (view.u1 - view.u0), 12)
    const back = zoomed(closer, 1 / factor, 0.3, 0.25)
    for (const side of ['u0', 'u1', 'v0', 'v1'] as const) expect(back[side]).toBeCloseTo(view[side], 12)
  }
  const moved = panned(view, 0.1, -0.2)
  for (const [side, want] of [
    ['u0', 0.3],
    ['u1', 0.7],
    ['v0', -0.2],
    ['v1', 0.8],
  ] as const)
    expect(moved[side]).toBeCloseTo(want, 12)
  expect(allowed(WHOLE)).toBe(true)
  expect(allowed(zoomed(WHOLE, 1e-6, 0.5, 0.5))).toBe(false)
  expect(allowed(zoomed(WHOLE, 2000, 0.5, 0.5))).toBe(false)
})

test('at one place along x each line says its value, those that do not pass say nothing', () => {
  const f = figure({
    primitive: 'paths',
    mark: 'fit',
    x: f32(0, 1, 0.6, 1),
    y: f32(0.2, 0.4, 0.5, 0.5),
    start: Uint32Array.of(0, 2),
    count: 2,
    colour: Uint8Array.of(0, 1),
    keys: { colour: 1 } as Layer['keys'],
    cards: cards(2),
  })
  const everything = () => () => true
  expect(sameXCard(f, 0, 0.5, everything)?.facts.map((fact) => fact.value)).toEqual(['3 kg'])
  expect(sameXCard(f, 0, 0.8, everything)?.facts.map((fact) => fact.value)).toEqual(['3.6 kg', '5 kg'])
})

test('a card writes numbers in the form of their column, and keeps their digits', () => {
  const column = (more: object) => ({ column: 'kg', name: 'Honey', kind: 'number', numbers: Float64Array.of(1234.5, NaN), ...more })
  const value = (more: object, dot = 0) => {
    const f = figure({ ...dots, first: 0 })
    f.card = { columns: [column(more)] } as unknown as Figure['card']
    return pointCard(f, f.layers[0], dot)!.facts[0].value
  }
  expect(value({})).toBe('1,234.5')
  expect(value({ unit: 'kg' })).toBe('1,234.5 kg')
  expect(value({ form: 'plain' })).toBe('1234.5')
  expect(value({ form: 'currency £', unit: '£' })).toBe('£1,234.50')
  expect(value({ form: 'decimals 3' })).toBe('1,234.500')
  expect(value({ form: '120k' })).toBe('1,234.5') // a card is exact
  expect(value({ fixed: 2 })).toBe('1,234.50')
  expect(value({ kind: 'date', numbers: Float64Array.of(0.25, NaN) })).toBe('1 January 1970 00:00:00.250')
  expect(value({}, 1)).toBe('missing')
})

test('marks of the same rows slide from one figure to the next, others do not', () => {
  const line: Partial<Layer> = { primitive: 'paths', mark: 'fit', x: f32(0, 1), y: f32(0.8, 0.2), count: 1 }
  const before = figure({ ...dots, left_out: Uint8Array.of(3) }, line)
  const after = figure({ ...dots, left_out: Uint8Array.of(3), y: f32(0.5, 0.9, 0.1, 0.9) }, { ...line, y: f32(0.2, 0.8) })
  const at = slideBetween(before, after)!
  expect([...at(0).layers[0].y!]).toEqual([...before.layers[0].y!])
  expect([...at(1).layers[0].y!]).toEqual([...after.layers[0].y!])
  expect(at(0.5).layers[0].y![1]).toBeCloseTo(0.7, 6)
  expect([...at(0.25).layers[1].y!].map((v) => v.toFixed(2))).toEqual(['0.65', '0.35'])
  expect(slideBetween(before, before)).toBeNull()
  expect(slideBetween(before, figure({ ...dots, left_out: Uint8Array.of(1), y: f32(0.5, 0.9, 0.1, 0.9) }))).toBeNull()
  expect(slideBetween(before, figure({ ...dots, x: f32(0.1), y: f32(0.2) }))).toBeNull()
  const many = figure({ ...dots, x: new Float32Array(20_000), y: new Float32Array(20_000) })
  expect(slideBetween(many, figure({ ...dots, x: new Float32Array(20_000).fill(1), y: new Float32Array(20_000) }))).toBeNull()
})

test('what is followed from one step to the next moves, however its rows stand', () => {
  const step = (x: number[], who: number[]) => figure({ ...dots, x: f32(...x), y: f32(...x), who: Int32Array.from(who) } as Partial<Layer>)
  const at = slideBetween(step([0.1, 0.2, 0.3], [4, 7, -1]), step([0.5, 0.6, 0.7, 0.8], [7, 4, 9, -1]))!
  expect([...at(0).layers[0].x!].map((v) => v.toFixed(2))).toEqual(['0.20', '0.10', '0.70', '0.80']) // the new one and the nameless one stand where they come
  expect([...at(1).layers[0].x!].map((v) => v.toFixed(2))).toEqual(['0.50', '0.60', '0.70', '0.80'])
})

test('one place along x is compared across panels, and a cell without a panel is found', () => {
  const line = (panel: number, y: number, heading: string, from = 0): Partial<Layer> => ({
    panel,
    primitive: 'paths',
    mark: 'fit',
    x: f32(from, 1),
    y: f32(y, y),
    start: Uint32Array.of(0),
    count: 1,
    cards: [{ heading, facts: [] }],
  })
  const f = figure(line(0, 0.2, 'Tarn'), line(1, 0.4, 'Tarn'), line(1, 0.6, 'Fen', 0.8), line(2, 0.5, 'Moor', 0.9))
  f.panels = ['2029', '2030', '2031'].map((title) => ({ ...f.panels[0], titles: [title] }))
  const all = () => () => true
  expect(compareCard(f, 1, 0.5, all)).toEqual({
    heading: 'At 5 · kg',
    facts: [],
    table: { columns: ['2029', '2030', '2031'], here: 1, rows: [{ name: 'Tarn', values: ['2', '4', ''] }] },
    foot: 'no line at 5: Fen, Moor',
  })
  f.panels[2] = { ...f.panels[2], x: 1 }
  expect(compareCard(f, 1, 0.5, all)).toBeNull()
  const at = (left: number, top: number) => ({ ...frames(f)[0], left, top })
  expect(freeCell([at(0, 0), at(400, 0), at(0, 300)])).toEqual({ left: 400, top: 300 })
  expect(freeCell([at(0, 0), at(400, 0)])).toBeNull()
})

test('rows inside an outline are chosen, whatever its shape', () => {
  const f = figure({ ...dots, colour: Uint8Array.of(0, 1, 0, 1), keys: { colour: 1 }, row: Uint32Array.of(7, 3, 9, 1) } as Partial<Layer>)
  const around: Outline = [
    [400, 400],
    [950, 60],
    [950, 200],
    [600, 600],
    [400, 600],
  ]
  expect(rowsInside(f, frames(f), null, around)).toEqual([1, 3, 9])
  expect(rowsInside(f, frames(f), { key: 1, entries: [1] }, around)).toEqual([1, 3])
  expect(
    rowsInside(f, frames(f), null, [
      [0, 0],
      [10, 10],
    ]),
  ).toEqual([])
  const bow: Outline = [
    [0, 0],
    [100, 100],
    [100, 0],
    [0, 100],
  ] // it crosses itself
  expect(
    [
      [20, 50],
      [80, 50],
      [50, 20],
      [50, 80],
    ].map(([x, y]) => within(bow, x, y)),
  ).toEqual([true, true, false, false])
})

test('two fingers zoom by how far they part, and move by their middle', () => {
  const fingers = new Fingers()
  fingers.down(1, 100, 100)
  expect(fingers.move(1, 110, 100)).toBeNull()
  fingers.down(2, 210, 100)
  expect(fingers.move(2, 310, 100)).toEqual({ factor: 0.5, x: 210, y: 100, dx: 50, dy: 0 })
  fingers.up(1)
  expect(fingers.move(2, 0, 0)).toBeNull()
  expect(fingers.move(9, 0, 0)).toBeNull()
})

test('a step shows its own panel as if it were the only one', () => {
  const whole = {
    ...figure(dots, { ...dots, panel: 1 }),
    step: true,
    texts: [
      { panel: -1, text: 'T' },
      { panel: 0, text: '2029' },
      { panel: 1, text: '2030' },
    ],
  } as unknown as Figure
  whole.panels = [
    { ...whole.panels[0], titles: ['2029'] },
    { ...whole.panels[0], titles: ['2030'] },
  ]
  const second = stepOf(whole, 1)
  expect(second.panels.map((p) => p.titles)).toEqual([['2030']])
  expect(second.layers.map((l) => [l.panel, l.x])).toEqual([[0, whole.layers[1].x]])
  expect(second.texts.map((t) => [t.panel, t.text])).toEqual([
    [-1, 'T'],
    [0, '2030'],
  ])
  expect(second.step).toBe(false)
})

test('a card is copied as text', () => {
  expect(cardWords({ heading: 'TA-020', facts: [{ name: 'honey', value: '8 kg' }] })).toBe('TA-020\nhoney: 8 kg')
  expect(
    cardWords({
      heading: 'At 3',
      facts: [],
      table: { columns: ['2029', '2030'], here: 1, rows: [{ name: 'Tarn', values: ['1', '2'] }] },
      foot: 'of 9 rows',
    }),
  ).toBe('At 3\n2029\t2030\nTarn\t1\t2\nof 9 rows')
})
