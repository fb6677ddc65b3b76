import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { cellsOf, paintOf, shadesOf } from '../src/painter/dots/shade'

test('crowded points are shaded as the server shades them', () => {
  const c = JSON.parse(readFileSync(new URL('../../contract/shade.json', import.meta.url), 'utf8'))
  const kinds: number[] = [...new Set<number>(c.radius)]
  const points = {
    count: c.x.length,
    x: Float32Array.from(c.x),
    y: Float32Array.from(c.y),
    stamp: Uint16Array.from(c.radius, (r: number) => kinds.indexOf(r)),
  }
  const paint = kinds.map((r) => paintOf((r * c.largest) / 255, c.opacity))
  const whole = { u0: 0, u1: 1, v0: 0, v1: 1 }
  const cells = cellsOf(whole, c.width, c.height)
  expect([cells.columns, cells.rows]).toEqual([c.columns, c.rows])
  shadesOf(points, paint, whole, cells)!.forEach((v, i) => expect(Math.abs(v - c.values[i]), `cell ${i}`).toBeLessThan(2e-4))
  // Looked at so closely that they lie apart, none is shaded.
  const close = { u0: 0.9, u1: 0.91, v0: 0.9, v1: 0.91 }
  expect(shadesOf(points, paint, close, cellsOf(close, c.width, c.height))).toBeNull()
})
