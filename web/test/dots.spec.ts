import { expect, test } from '@playwright/test'
import type { Layer } from '../src/figure/figure'
// @ts-expect-error a script without types
import { compiled } from '../scripts/kernel.mjs'
import { KERNEL } from '../src/painter/dots/kernel.gen'
import { Kernel } from '../src/painter/dots/kernel'
import { paintScalar } from '../src/painter/dots/scalar'
import { pointsOf, type Points, type Sheet } from '../src/painter/dots/sheet'
import { cellsOf, shadesOf } from '../src/painter/dots/shade'
import { packed, stampOf, type Stamp } from '../src/painter/dots/stamps'
import { WHOLE, type View } from '../src/painter/geometry'

const SHAPES = ['circle', 'square', 'triangle', 'down', 'diamond', 'cross', 'bar', 'ring']

test('the kernel that is kept is what its source compiles to', async () => {
  expect(`export const KERNEL = '${await compiled()}'`).toBe(`export const KERNEL = '${KERNEL}'`)
})

/** Numbers from 0 to 1 from a seed. */
function chance(seed: number): () => number {
  return () => ((seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0), seed / 2 ** 32)
}

function layerOf(count: number, seed: number, spread = 1): Layer {
  const next = chance(seed)
  const of = (make: () => number) => Array.from({ length: count }, make)
  const along = () => 0.5 + spread * (next() - 0.5)
  return {
    panel: 0,
    mark: 'dots',
    primitive: 'points',
    count,
    x: Float32Array.from(of(along)),
    y: Float32Array.from(of(along)),
    colour: Uint8Array.from(of(() => Math.floor(3 * next()))),
    shape: Uint8Array.from(of(() => Math.floor(8 * next()))),
    radius: Uint8Array.from(of(() => 40 + Math.floor(200 * next()))),
    style: { largest_radius: 7 },
  }
}

const stampsOf = (points: Points, opacity: number, largest: number): Stamp[] =>
  points.kinds.map(({ shape, step }) => stampOf(SHAPES[shape], (largest * step) / 255, opacity))

function sheetOf(points: Points, width: number, height: number, view: View = WHOLE, opacity = 0.5, shaded = false, largest = 7): Sheet {
  return {
    width,
    height,
    top: 0,
    rows: height,
    view,
    palette: [
      [200, 30, 90],
      [10, 120, 250],
      [0, 0, 0],
    ],
    stamps: packed(stampsOf(points, opacity, largest)),
    ...(shaded && {
      shade: { paint: new Float32Array(points.kinds.length).fill(2), ink: [250, 240, 10], width: width / 1.5, height: height / 1.5 },
    }),
  }
}

/** Lays every point over those below it: the slow obvious way. */
function painted(points: Points, { width, height, view, palette, shade }: Sheet, stamps: Stamp[]): number[][] {
  const out = Array.from({ length: width * height }, () => [0, 0, 0, 0])
  for (let i = points.count - 1; i >= 0; i--) {
    const px = Math.floor(((points.x[i] - view.u0) / (view.u1 - view.u0)) * width + 0.5)
    const py = Math.floor(height - ((points.y[i] - view.v0) / (view.v1 - view.v0)) * height + 0.5)
    const { half, side, opacities } = stamps[points.stamp[i]]
    for (let s = 0; s < opacities.length; s++) {
      const [x, y] = [px - half + (s % side), py - half + Math.floor(s / side)]
      if (x < 0 || y < 0 || x >= width || y >= height) continue
      const a = opacities[s]
      const at = out[y * width + x]
      palette[points.entry[i]].forEach((c, k) => (at[k] += (c - at[k]) * a))
      at[3] += (1 - at[3]) * a
    }
  }
  const shadeAt = shade ? shader(points, shade, view, width, height) : () => 0
  return out.map(([r, g, b, a], i) =>
    a === 0
      ? [0, 0, 0, 0]
      : [...[r / a, g / a, b / a].map((c, k) => c + ((shade?.ink[k] ?? 0) - c) * shadeAt(i % width, Math.floor(i / width))), 255 * a],
  )
}

/** How strongly each pixel is shaded: between the middles of cells as far as it lies from each. */
function shader(
  points: Points,
  shade: NonNullable<Sheet['shade']>,
  view: View,
  width: number,
  height: number,
): (x: number, y: number) => number {
  const cells = cellsOf(view, shade.width, shade.height)
  const shades = shadesOf(points, shade.paint, view, cells)
  const at = (pixel: number, all: number, page: number, last: number) => Math.min(Math.max(((pixel + 0.5) * page) / all / 4 - 0.5, 0), last)
  return (x, y) => {
    const [c, r] = [at(x, width, shade.width, cells.columns - 1), at(y, height, shade.height, cells.rows - 1)]
    const near = (k: number, at: number) => Math.max(0, 1 - Math.abs(k - at))
    return shades ? shades.reduce((sum, v, i) => sum + v * near(i % cells.columns, c) * near(Math.floor(i / cells.columns), r), 0) : 0
  }
}

for (const [name, count, spread, view, opacity, shaded, largest = 7] of [
  ['a few', 12, 1, WHOLE, 0.5, false],
  ['many over each other', 3000, 0.4, WHOLE, 0.3, false],
  ['many over each other, shaded', 3000, 0.4, WHOLE, 0.3, true],
  ['nearly clear', 800, 0.6, WHOLE, 0.04, false],
  ['all at one place', 500, 0, WHOLE, 0.9, true],
  ['opaque', 400, 1, WHOLE, 1, false],
  ['zoomed', 2000, 1, { u0: 0.21, u1: 0.34, v0: 0.4, v1: 0.52 }, 0.6, true],
  ['none', 0, 1, WHOLE, 1, true],
  ['big ones that reach in from beyond the edge', 200, 1, { u0: 0.4, u1: 0.6, v0: 0.4, v1: 0.6 }, 0.5, false, 90],
  ['big ones over small ones that are closed', 900, 0.2, WHOLE, 0.9, false, 40],
] as [string, number, number, View, number, boolean, number?][])
  for (const width of [83, 64])
    test(`${name}: points are painted as laid one over the other, by the kernel and without it alike, ${width} wide`, () => {
      const points = pointsOf(layerOf(count, count + 7, spread), null)
      const sheet = sheetOf(points, width, 61, view, opacity, shaded, largest)
      const scalar = paintScalar(points, sheet)
      const kernel = Kernel.make()!
      const others = pointsOf(layerOf(40, 3), null)
      kernel.paint(others, sheetOf(others, 20, 90))
      kernel.paint(points, sheet)
      expect(kernel.paint(points, sheet)).toEqual(scalar) // of what it holds by now
      for (const way of [paintScalar, kernel.paint.bind(kernel)]) {
        const bands = [
          [0, 16],
          [16, 45],
        ].map(([top, rows]) => [...way(points, { ...sheet, top, rows })])
        expect(bands.flat()).toEqual([...scalar]) // bands of whole tiles are cut from the whole
      }
      // What hardly shines through is taken for closed.
      const wrong = painted(points, sheet, stampsOf(points, opacity, largest)).flatMap((pixel, i) =>
        pixel
          .filter((want, k) => Math.abs(scalar[4 * i + k] - want) > (pixel[3] < 12 ? 255 / pixel[3] : 3))
          .map(() => `${i % width},${Math.floor(i / width)}`),
      )
      expect(wrong).toEqual([])
    })

test('points without a place, or far from the panel, are not painted', () => {
  const layer = layerOf(60, 11)
  const [strange, far] = [
    [NaN, Infinity, -Infinity, 1e30, -1e30],
    [NaN, 50, -50],
  ]
  strange.forEach((v, i) => ((layer.x![i] = v), (layer.y![10 + i] = v)))
  far.forEach((v, i) => ((layer.x![20 + i] = v), (layer.y![30 + i] = v)))
  const kept = Array.from({ length: 60 }, (_, i) => i).filter((i) => [layer.x![i], layer.y![i]].every((v) => v >= 0 && v <= 1))
  const bytes = (values: ArrayLike<number>) => Uint8Array.from(kept, (i) => values[i])
  const places = (values: ArrayLike<number>) => Float32Array.from(kept, (i) => values[i])
  const alone = {
    ...layer,
    count: kept.length,
    x: places(layer.x!),
    y: places(layer.y!),
    colour: bytes(layer.colour!),
    shape: bytes(layer.shape!),
    radius: bytes(layer.radius!),
  }
  const [all, those] = [pointsOf(layer, null), pointsOf(alone, null)]
  const wanted = paintScalar(those, sheetOf(those, 83, 61, WHOLE, 0.5, true))
  expect(paintScalar(all, sheetOf(all, 83, 61, WHOLE, 0.5, true))).toEqual(wanted)
  expect(Kernel.make()!.paint(all, sheetOf(all, 83, 61, WHOLE, 0.5, true))).toEqual(wanted)
})

test('entries that are looked at alone are laid alone, the biggest below', () => {
  const layer = { ...layerOf(400, 5), keys: { colour: 2 } }
  const alone = pointsOf(layer, { key: 2, entries: [1] })
  expect(alone.count).toBe(layer.colour!.filter((c) => c === 1).length)
  expect(new Set(alone.entry.subarray(0, alone.count))).toEqual(new Set([1]))
  const steps = Array.from(alone.stamp.subarray(0, alone.count), (s) => alone.kinds[s].step)
  expect(steps).toEqual([...steps].sort((a, b) => a - b))
  expect(pointsOf(layer, { key: 1, entries: [] }).count).toBe(400)
})
