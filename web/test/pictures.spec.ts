import { expect, test } from '@playwright/test'
import type { Figure, Layer } from '../src/figure/figure'
import { Hands } from '../src/painter/dots/hands'
import { Pictures, type Scene } from '../src/painter/dots/pictures'
import { paintScalar } from '../src/painter/dots/scalar'
import { pointsOf, type Points, type Sheet } from '../src/painter/dots/sheet'
import { packed, stampOf } from '../src/painter/dots/stamps'
import type { Order } from '../src/painter/dots/worker'
import { WHOLE, type View } from '../src/painter/geometry'
import { DARK, LIGHT, type Theme } from '../src/painter/theme'

const [WIDTH, HEIGHT] = [64, 48]

/** A canvas that keeps what was last put on it. */
class Canvas {
  width = 0
  height = 0
  pixels: Uint8ClampedArray = new Uint8ClampedArray()

  getContext() {
    return {
      putImageData: ({ data, height }: ImageData, _x: number, y: number) => {
        if (this.pixels.length === 0) this.pixels = new Uint8ClampedArray(4 * this.width * this.height)
        this.pixels.set(data.subarray(0, 4 * this.width * height), 4 * this.width * y)
      },
    }
  }
}

/** Does what a worker does, after a while. */
class Hand {
  private readonly held = new Map<number, Points>()
  onmessage: (message: { data: Uint8ClampedArray }) => void = () => {}

  postMessage({ number, points, sheet }: Order) {
    if (points) this.held.set(number, points)
    if (sheet) setTimeout(() => this.onmessage({ data: paintScalar(this.held.get(number)!, sheet) }), 5)
  }
}

/** What is drawn of a canvas: it, and the part that is taken of it where it is moved. */
type Drawn = { canvas: Canvas; moved: boolean }

function layerOf(count: number): Layer {
  let seed = 5
  const next = () => ((seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0), seed / 2 ** 32)
  return {
    panel: 0,
    mark: 'dots',
    primitive: 'points',
    count,
    x: Float32Array.from({ length: count }, next),
    y: Float32Array.from({ length: count }, next),
    style: { fixed_radius: 3, opacity: 0.5, light: '#b4531a', dark: '#f0a070' },
  } as Layer
}

/** The pixels that a picture of a view should have. */
function wanted(layer: Layer, view: View, theme: Theme): Uint8ClampedArray {
  const colour = theme.dark ? [0xf0, 0xa0, 0x70] : [0xb4, 0x53, 0x1a]
  const sheet: Sheet = {
    width: WIDTH,
    height: HEIGHT,
    top: 0,
    rows: HEIGHT,
    view,
    palette: [colour],
    stamps: packed([stampOf('circle', 3, 0.5)]),
  }
  return paintScalar(pointsOf(layer, null), sheet)
}

const before = { document: globalThis.document, Worker: globalThis.Worker, ImageData: globalThis.ImageData }
test.beforeEach(() => {
  made = 0
  Object.assign(globalThis, {
    document: { createElement: () => (made++, new Canvas()) },
    Worker: Hand,
    ImageData: class {
      readonly height: number
      constructor(
        readonly data: Uint8ClampedArray,
        readonly width: number,
      ) {
        this.height = data.length / 4 / width
      }
    },
  })
})
test.afterEach(() => void Object.assign(globalThis, before))

/** How many canvases were made. */
let made = 0

const told = { moved: () => {}, sharp: () => {} }
let pictures: Pictures
let still: Pictures
test.beforeEach(() => {
  pictures = new Pictures(told, new Hands())
  still = new Pictures(undefined, new Hands())
})

/** Paints a layer in a view; gives what was drawn, and tells when the sharp picture is there. */
function paint(layer: Layer, view: View, theme = LIGHT, waits = true): { drawn: Drawn; sharp: Promise<void> | null } {
  let drawn: Drawn | undefined
  let moved = false
  let tell = () => {}
  const sharp = new Promise<void>((done) => (tell = done))
  const c = { drawImage: (canvas: Canvas, ...at: number[]) => (drawn = { canvas, moved: at.length > 4 }) }
  const scene = {
    c,
    figure: { keys: [] } as unknown as Figure,
    theme,
    selection: null,
    pixelRatio: 1,
  } as unknown as Scene
  Object.assign(told, { moved: () => void (moved = true), sharp: tell })
  const of = waits ? pictures : still
  of.paint(scene, layer, { left: 0, top: 0, width: WIDTH, height: HEIGHT, view })
  return { drawn: drawn!, sharp: moved ? sharp : null }
}

const zoomed = (by: number): View => ({ u0: 0.5 - by, u1: 0.5 + by, v0: 0.5 - by, v1: 0.5 + by })

test('what is looked at closely is the last picture, moved, until the sharp one is there', async () => {
  const layer = layerOf(300)
  const whole = paint(layer, WHOLE)
  expect(whole.sharp).toBeNull()
  expect(whole.drawn.canvas.pixels).toEqual(wanted(layer, WHOLE, LIGHT))
  for (const view of [zoomed(0.3), zoomed(0.2), { u0: 0.1, u1: 0.3, v0: 0.4, v1: 0.6 }]) {
    const first = paint(layer, view)
    expect(first.drawn.moved).toBe(true)
    await first.sharp
    const then = paint(layer, view)
    expect([then.sharp, then.drawn.moved]).toEqual([null, false])
    expect(then.drawn.canvas.pixels).toEqual(wanted(layer, view, LIGHT))
    expect(then.drawn.canvas).not.toBe(whole.drawn.canvas)
  }
  expect(whole.drawn.canvas.pixels).toEqual(wanted(layer, WHOLE, LIGHT)) // it is kept for whoever looks from further off
  expect(made).toBe(2)
  const far = paint(layer, zoomed(0.45))
  expect(far.drawn.canvas).toBe(whole.drawn.canvas) // the last one shows less than is looked at
  await far.sharp
  expect(paint(layer, zoomed(0.45)).drawn.canvas.pixels).toEqual(wanted(layer, zoomed(0.45), LIGHT))
})

test('back at the whole, and further off, the picture is what it should be', async () => {
  const layer = layerOf(200)
  for (const view of [WHOLE, zoomed(0.1), WHOLE, { u0: -1, u1: 2, v0: -1, v1: 2 }, zoomed(0.4), WHOLE]) {
    const { sharp } = paint(layer, view)
    await sharp
    const { drawn } = paint(layer, view)
    expect(drawn.moved).toBe(false)
    expect(drawn.canvas.pixels).toEqual(wanted(layer, view, LIGHT))
  }
})

test('in other colours it is painted anew at once, where the one before stood', async () => {
  const layer = layerOf(200)
  const { drawn: first } = paint(layer, WHOLE)
  for (const theme of [DARK, LIGHT, DARK]) {
    const { drawn, sharp } = paint(layer, WHOLE, theme)
    expect(sharp).toBeNull()
    expect(drawn.canvas).toBe(first.canvas)
    expect(drawn.canvas.pixels).toEqual(wanted(layer, WHOLE, theme))
  }
})

test('what does not wait is sharp at once', () => {
  const layer = layerOf(100)
  for (const view of [WHOLE, zoomed(0.2), zoomed(0.3), WHOLE]) {
    const { drawn, sharp } = paint(layer, view, LIGHT, false)
    expect([sharp, drawn.moved]).toEqual([null, false])
    expect(drawn.canvas.pixels).toEqual(wanted(layer, view, LIGHT))
  }
})

test('while a hand moves on, the picture that is painted is the one that was asked for last', async () => {
  const layer = layerOf(150)
  paint(layer, WHOLE)
  const asked = Array.from({ length: 12 }, (_, i) => zoomed(0.45 - 0.03 * i))
  let last: Promise<void> | null = null
  for (const view of asked) {
    last = paint(layer, view).sharp
    await new Promise((done) => setTimeout(done, 4))
  }
  await last
  expect(paint(layer, asked.at(-1)!).drawn.canvas.pixels).toEqual(wanted(layer, asked.at(-1)!, LIGHT))
})
