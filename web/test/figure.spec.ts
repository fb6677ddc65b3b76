import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { carried, decodePicture, rowFinder, type Figure, type Layer } from '../src/figure/figure'
import { exactNumber, ownCard, pointCard, sameXCard } from '../src/interact/card'
import { hitAt, nearestPath, nearestPoint } from '../src/interact/hit'
import { kindsOf, Walk } from '../src/interact/walk'
import { framesOf, paintOrder, radiusOf, toX, toY, WHOLE } from '../src/painter/geometry'

const file = (name: string) => readFileSync(new URL(`../../contract/${name}`, import.meta.url))
const figure = () => {
  const bytes = file('figure.bin')
  return decodePicture(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer).figure
}
const dotsOf = (f: ReturnType<typeof figure>) => f.layers.find((l) => l.rows)!

test('a figure decodes to what the server listed', () => {
  const listed = JSON.parse(file('figure.json').toString())
  const decoded = figure()
  const close = (got: ArrayLike<number> | undefined, want: (number | null)[] | undefined) => {
    expect(got?.length).toBe(want?.length)
    want?.forEach((v, i) => (v === null ? expect(got![i]).toBeNaN() : expect(got![i]).toBeCloseTo(v, 5)))
  }
  const arrays = ['x', 'y', 'x2', 'y2', 'start', 'colour', 'shape', 'radius', 'dx', 'dy', 'row', 'left_out'] as const
  decoded.layers.forEach((layer, i) => arrays.forEach((name) => close(layer[name], listed.layers[i][name])))
  decoded.card.columns.forEach((column, i) => {
    close(column.numbers, listed.card.columns[i].numbers)
    close(column.codes, listed.card.columns[i].codes)
  })
  expect(decoded.rows).toEqual(listed.rows)
  expect(decoded.layers.map((l) => [l.mark, l.primitive, l.count])).toEqual(listed.layers.map((l: Layer) => [l.mark, l.primitive, l.count]))
})

test('rows are found through the mask of what is left out', () => {
  const kept = [1, 2, 5, 6, 7, 8, 9, 17, 18, 21]
  const mask = new Uint8Array(3).fill(0)
  for (let row = 0; row < 24; row++) if (!kept.includes(row)) mask[row >> 3] |= 1 << (row & 7)
  const find = rowFinder({ left_out: mask } as unknown as Layer)
  expect(kept.map((_, dot) => find(dot))).toEqual(kept)
})

test('pointing at a mark finds it, at its own place and nowhere else', () => {
  const f = figure()
  const frames = framesOf(f, f.width, f.height, WHOLE)
  const [frame] = frames
  const dots = dotsOf(f)
  const at = f.layers.indexOf(dots)
  const x = (dot: number) => toX(frame, dots.x![dot])
  const y = (dot: number) => toY(frame, dots.y![dot])
  for (let dot = 0; dot < dots.count; dot++) {
    expect(nearestPoint(dots, frame, null, x(dot) + 2, y(dot) - 1, 10)).toBe(dot)
    const other = { key: dots.keys!.colour!, entries: [dots.colour![dot] === 0 ? 1 : 0] }
    expect(nearestPoint(dots, frame, other, x(dot), y(dot), 1)).not.toBe(dot)
    // The key of sizes explains no colours: isolating by it hides nothing.
    expect(nearestPoint(dots, frame, { key: dots.keys!.size!, entries: [9] }, x(dot), y(dot), 1)).toBe(dot)
  }
  expect(hitAt(f, frames, null, x(0) + 9, y(0), 12)).toMatchObject({ layer: at, i: 0 })
  expect(hitAt(f, frames, null, frame.left - 40, frame.top, 10)).toBeNull()
  const paths = f.layers.filter((l) => l.primitive === 'paths')
  const overall = paths.at(-1)!
  const hit = hitAt(f, frames, null, toX(frame, overall.x![50]), toY(frame, overall.y![50]) + 1, 1)
  expect(ownCard(f.layers[hit!.layer], hit!.i)?.heading).toBe('all gs')
  expect(nearestPath(overall, frame, () => false, toX(frame, overall.x![50]), toY(frame, overall.y![50]), 5)).toBe(-1)
})

test('bars and polygons are found inside, segments near by', () => {
  const base = { panel: 0, mark: 'bars', count: 1, style: { fill: true, width: 1 }, cards: [{ heading: 'one', facts: [] }] }
  const f = figure()
  const share = (...values: number[]) => Float32Array.from(values)
  const layers = {
    rects: { ...base, primitive: 'rects', x: share(0.2), y: share(0), x2: share(0.4), y2: share(0.5) },
    segments: { ...base, primitive: 'segments', x: share(0.2), y: share(0.5), x2: share(0.4), y2: share(0.5) },
    polygons: { ...base, primitive: 'polygons', x: share(0.2, 0.4, 0.3), y: share(0.2, 0.2, 0.6), start: Uint32Array.of(0) },
  }
  for (const [name, inside, outside] of [
    ['rects', [0.3, 0.2], [0.5, 0.2]],
    ['segments', [0.3, 0.5], [0.3, 0.4]],
    ['polygons', [0.3, 0.3], [0.21, 0.5]],
  ] as const) {
    const only = { ...f, layers: [layers[name] as unknown as Layer] }
    const frames = framesOf(only, f.width, f.height, WHOLE)
    const look = ([u, v]: readonly [number, number]) => hitAt(only, frames, null, toX(frames[0], u), toY(frames[0], v), 10)
    expect(look(inside), name).toMatchObject({ layer: 0, i: 0 })
    expect(look(outside), name).toBeNull()
  }
})

test('arrow keys walk the marks in order of x and of y', () => {
  const f = figure()
  const dots = dotsOf(f)
  const walk = new Walk(f, null, kindsOf(f)[0].layers)
  const walked: number[] = []
  for (let stop = walk.step(null, 'x', 1); walked.length < dots.count; stop = walk.step(stop, 'x', 1)) walked.push(dots.x![stop!.i])
  expect(walked).toEqual([...dots.x!].sort((a, b) => a - b))
  expect(walk.step(null, 'y', -1)!.i).toBe([...dots.y!].indexOf(Math.max(...dots.y!)))
})

test('big marks are painted before small ones', () => {
  const dots = dotsOf(figure())
  const radii = [...paintOrder(dots)!].map((dot) => radiusOf(dots, dot))
  expect(radii).toEqual([...radii].sort((a, b) => b - a))
})

test('a card shows exact values, with units and marks between thousands', () => {
  const f = figure()
  const card = pointCard(f, dotsOf(f), 1)!
  expect(card.heading).toBe('P2')
  expect(card.facts[0]).toEqual({ name: 'y', value: '2.0' })
  expect([1234567.891, -0.1, 3].map((v) => exactNumber(v))).toEqual(['1,234,567.891', '−0.1', '3'])
})

test('what lines say at one place along x is told for a panel', () => {
  const f = figure()
  const card = sameXCard(f, 0, 0.5, () => () => true)!
  expect(card.heading).toBe('At 31.62')
  expect(card.facts.map((fact) => fact.name)).toEqual(['a', 'all gs'])
  expect(sameXCard(f, 0, 0.5, () => () => false)).toBeNull()
  expect(sameXCard(f, 0, 5, () => () => true)).toBeNull()
})

test('what is looked at alone stays by name, and goes with its entries', () => {
  const key = (column: string, ...names: string[]) =>
    ({ keys: [{ column, entries: names.map((name) => ({ name })) }] }) as unknown as Figure
  const nine = key('apiary', 'a', 'b', 'c', '27 others')
  for (const [after, want] of [
    [key('apiary', 'c', 'x', 'a'), [0, 2]],
    [key('apiary', 'x'), null],
    [key('district', 'a', 'c'), null],
  ] as const)
    expect(carried({ key: 1, entries: [2, 0, 3, 9] }, nine, after)?.entries ?? null).toEqual(want)
})
