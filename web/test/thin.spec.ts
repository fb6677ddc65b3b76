import { expect, test } from '@playwright/test'
import type { Layer } from '../src/figure/figure'
import type { Frame } from '../src/painter/geometry'
import { toX, toY, WHOLE } from '../src/painter/geometry'
import { covered, gathered, seen, solid, THIN_ABOVE } from '../src/painter/primitives/thin'

const frame: Frame = { left: 40, top: 10, width: 300, height: 200, view: WHOLE }

/** A line that walks at random to the right and, now and then, back. */
function walk(count: number): Layer {
  let state = 7
  const random = () => (state = (state * 48271) % 2147483647) / 2147483647
  const [x, y, y2] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)]
  let at = -0.1
  for (let i = 0; i < count; i++) {
    at += ((random() - 0.1) * 2.2) / count
    x[i] = at
    y[i] = random() * 1.2 - 0.1
    y2[i] = random() < 0.5 ? 0 : random()
  }
  return { panel: 0, mark: 'line', primitive: 'paths', count: 1, x, y, y2, start: Uint32Array.of(0), style: {} }
}

/** The highest and lowest place in each column of pixels, of each stretch in it, the slow way. */
function columns(layer: Layer, along: number[]): string[] {
  const list: { column: number; low: number; high: number }[] = []
  for (const k of along) {
    const column = Math.floor(Math.min(Math.max(toX(frame, layer.x![k]), frame.left - 2), frame.left + frame.width + 2) * 2)
    const y = layer.y![k]
    const last = list.at(-1)
    if (last?.column === column) Object.assign(last, { low: Math.min(last.low, y), high: Math.max(last.high, y) })
    else list.push({ column, low: y, high: y })
  }
  return list.map((c) => Object.values(c).join(' '))
}

test('a long line keeps what is seen of it in every column of pixels', () => {
  const layer = walk(20_000)
  const all = Array.from({ length: 20_000 }, (_, i) => i)
  const kept = seen(layer, frame, 0, 20_000, 2)
  expect(columns(layer, kept)).toEqual(columns(layer, all))
  expect(kept).toEqual([...kept].sort((a, b) => a - b))
  expect(kept.length).toBeLessThan(8_000)
  expect([kept[0], kept.at(-1)]).toEqual([0, 19_999])
  expect(seen(layer, frame, 5, 5 + THIN_ABOVE, 2)).toHaveLength(THIN_ABOVE) // short ones are painted whole
})

test('a long area covers what it covered, and upright segments together what each does', () => {
  const layer = walk(20_000)
  const edges = covered(layer, frame, 0, 20_000, 2)
  let [top, bottom] = [Infinity, -Infinity]
  for (let i = 0; i < 20_000; i++) {
    top = Math.min(top, toY(frame, Math.max(layer.y![i], layer.y2![i])))
    bottom = Math.max(bottom, toY(frame, Math.min(layer.y![i], layer.y2![i])))
  }
  expect(Math.min(...edges.top)).toBeCloseTo(top, 6)
  expect(Math.max(...edges.bottom)).toBeCloseTo(bottom, 6)
  expect(edges.top.every((y, i) => y <= edges.bottom[i])).toBe(true)
  const stalks = {
    ...layer,
    count: 5,
    x: Float32Array.of(0.1, 0.1002, 0.1001, 0.5, 3),
    y: new Float32Array(5),
    y2: Float32Array.of(0.2, 0.7, 0.4, -0.1, 1),
    colour: Uint8Array.of(1, 1, 0, 1, 1),
  } as Layer
  const together = gathered(stalks, frame, () => true, 2).map(({ entry, at }) => [
    entry,
    at.map(({ x, from, to }) => [x, from, to].map(Math.round)),
  ])
  const [base, high] = [Math.round(toY(frame, 0)), (v: number) => Math.round(toY(frame, v))]
  expect(together).toEqual([
    [
      1,
      [
        [70, high(0.7), base],
        [190, base, high(-0.1)],
      ],
    ],
    [0, [[70, high(0.4), base]]],
  ])
  expect(gathered(stalks, frame, (i) => i === 3, 2)).toHaveLength(1)
})

test('a column that is filled reaches to the vertex before it, which its line comes from', () => {
  const n = 40_000
  const x = Float32Array.from({ length: n }, (_, i) => i / n)
  const y = x.map((v) => (v < 0.5 ? 0.1 : 0.9)) // a step between two columns of pixels
  const columns = solid({ ...walk(1), x, y, start: Uint32Array.of(0) }, frame, 0, n, 1)!
  const tallest = Math.max(...columns.map((c) => c.bottom - c.top))
  expect(tallest).toBeCloseTo(0.8 * frame.height, 3)
})

test('a line that fills its columns of pixels is as high and as low there as its vertices', () => {
  const layer = walk(20_000)
  expect(solid(layer, frame, 0, 500, 2)).toBeNull()
  const columns = solid(layer, frame, 0, 20_000, 2)!
  const inFrame = Array.from({ length: 20_000 }, (_, i) => i).filter(
    (i) => toX(frame, layer.x![i]) >= frame.left && toX(frame, layer.x![i]) <= frame.left + frame.width,
  )
  const at = (x: number, y: number) => columns.some((c) => c.x === x && c.top <= y + 1e-6 && c.bottom >= y - 1e-6)
  const missed = inFrame.filter((i) => i % 7 === 0 && !at(Math.floor(toX(frame, layer.x![i]) * 2) / 2, toY(frame, layer.y![i])))
  expect(missed).toEqual([])
  expect(Math.min(...columns.map((c) => c.top))).toBeCloseTo(toY(frame, 1.1), 0)
})
