import { expect, test } from '@playwright/test'
import { ONE, packed, stampOf, trimmed, type Stamp } from '../src/painter/dots/stamps'

const SHAPES = ['circle', 'square', 'triangle', 'down', 'diamond', 'cross', 'bar', 'ring']
const covered = ({ opacities }: Stamp) => opacities.reduce((sum, v) => sum + v, 0)
const at = ({ half, side, opacities }: Stamp, x: number, y: number) => opacities[(y + half) * side + x + half]
/** The opacities of a stamp turned about its middle. */
const mirrored = (stamp: Stamp, x: number, y: number) =>
  Array.from(stamp.opacities, (_, i) => at(stamp, x * ((i % stamp.side) - stamp.half), y * (Math.floor(i / stamp.side) - stamp.half)))

test('every shape covers about the area of a circle of its radius', () => {
  for (const shape of SHAPES)
    for (const radius of [2, 3.3, 5, 8, 13.7]) {
      const share = covered(stampOf(shape, radius, 1)) / (Math.PI * radius * radius)
      expect(share, `${shape} of ${radius}`).toBeGreaterThan(0.75)
      expect(share, `${shape} of ${radius}`).toBeLessThan(1.15)
    }
})

test('a stamp lets through what its opacity says, left as right', () => {
  for (const shape of SHAPES)
    for (const radius of [0, 0.2, 1, 4.5, 9]) {
      const stamp = stampOf(shape, radius, 0.4)
      expect(stamp.side).toBe(2 * stamp.half + 1)
      expect(Math.max(...stamp.opacities)).toBeLessThanOrEqual(Math.fround(0.4))
      expect(covered(stamp)).toBeCloseTo(0.4 * covered(stampOf(shape, radius, 1)), 3)
      if (radius >= 1 && shape !== 'ring') expect(at(stamp, 0, 0)).toBeCloseTo(0.4)
      expect(mirrored(stamp, -1, 1)).toEqual([...stamp.opacities])
    }
  expect(covered(stampOf('nothing that is known', 3, 1))).toBe(covered(stampOf('circle', 3, 1)))
})

test('down is a triangle upside down', () => {
  const [up, down] = [stampOf('triangle', 6, 1), stampOf('down', 6, 1)]
  expect(mirrored(up, 1, -1)).toEqual([...down.opacities])
})

test('an outline lies around the edge, as wide as is said, and leaves the middle open', () => {
  for (const [radius, width] of [
    [6, 1],
    [6, 2],
    [12, 3],
  ]) {
    const stamp = stampOf('circle', radius, 1, width)
    expect(at(stamp, 0, 0)).toBe(0)
    expect(at(stamp, radius, 0)).toBeGreaterThan(0.4)
    expect(covered(stamp) / (2 * Math.PI * radius * width)).toBeCloseTo(1, 1)
  }
  expect(at(stampOf('circle', 1, 1, 4), 0, 0)).toBe(1) // wider than the dot, it fills it
})

test('rows are told from where they begin to where they have ended, and packed as they are', () => {
  const ragged = trimmed(2, Float32Array.of(0, 0, 0, 0, 0, 0, 0.5, 0, 1, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0.25, 0, 0, 0, 0, 0))
  expect([...ragged.ends]).toEqual([0, 0, 1, 4, 0, 5, 4, 5, 0, 0])
  const empty = trimmed(0, Float32Array.of(0))
  const { about, rows, opacities, reach } = packed([ragged, empty])
  expect([...about]).toEqual([2, 1, 4, 0, 0, 0, 0, 15])
  expect(reach).toBe(2)
  const row = (stamp: number, i: number) => [...rows.subarray(about[4 * stamp + 3] + 3 * i, about[4 * stamp + 3] + 3 * i + 3)]
  const values = (stamp: number, i: number) => {
    const [from, to, place] = row(stamp, i)
    expect([...opacities.subarray(place + to - from, place + to - from + 7)]).toEqual(Array(7).fill(0)) // eight may be read from any
    return [...opacities.subarray(place, place + to - from)].map((v) => v / ONE)
  }
  expect(row(0, 1).slice(0, 2)).toEqual([1, 4])
  expect(values(0, 1).map((v) => v.toFixed(2))).toEqual(['0.50', '0.00', '1.00'])
  expect(values(0, 2)).toEqual([1, 1, 1, 1, 1])
  expect(values(0, 3).map((v) => v.toFixed(2))).toEqual(['0.25'])
  expect(values(1, 0)).toEqual([])
  expect(packed([]).reach).toBe(0)
})
