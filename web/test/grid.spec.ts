import { expect, test } from '@playwright/test'
import type { Layer } from '../src/figure/figure'
import { GRID_ABOVE, gridOf, makeGrids } from '../src/interact/grid'
import { nearestPoint } from '../src/interact/hit'
import { frameOf, type View } from '../src/painter/geometry'
import type { Figure } from '../src/figure/figure'

const random = (seed: number) => () => (seed = (seed * 16807) % 2147483647) / 2147483647

test('a point is found by the grid as by looking at all of them, at any view', () => {
  const next = random(7)
  const count = GRID_ABOVE + 4000
  // Some share a place, some lie on the edges, and some beyond them.
  const place = () => (next() < 0.02 ? Math.round(next()) : next() < 0.02 ? 1.2 * next() - 0.1 : Math.round(next() * 300) / 300)
  const layer = {
    panel: 0,
    mark: 'dots',
    primitive: 'points',
    rows: true,
    count,
    x: Float32Array.from({ length: count }, place),
    y: Float32Array.from({ length: count }, place),
    radius: Uint8Array.from({ length: count }, () => 60 + next() * 195),
    style: { largest_radius: 6 },
  } as unknown as Layer
  const slow = { ...layer }
  for (const _ of makeGrids([layer]));
  expect(gridOf(layer)).toBeDefined()
  expect(gridOf(slow)).toBeUndefined()
  const figure = {
    width: 900,
    height: 560,
    panels: [{ box: { left: 60, top: 20, width: 800, height: 480 }, x: 0, y: 1 }],
    layers: [layer],
  } as unknown as Figure
  const views: View[] = [
    { u0: 0, u1: 1, v0: 0, v1: 1 },
    { u0: 0.4, u1: 0.45, v0: 0.9, v1: 1.1 },
    { u0: -0.3, u1: 1.3, v0: -0.3, v1: 1.3 },
  ]
  for (const view of views) {
    const frame = frameOf(figure, 0, 900, 560, view)
    let found = 0
    for (let k = 0; k < 300; k++) {
      const [x, y] = [60 + 800 * next(), 20 + 480 * next()]
      const i = nearestPoint(layer, frame, null, x, y, 18)
      expect(i).toBe(nearestPoint(slow, frame, null, x, y, 18))
      if (i >= 0) found++
    }
    expect(found).toBeGreaterThan(20)
  }
})
