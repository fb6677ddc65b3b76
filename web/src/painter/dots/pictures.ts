/**
 * Pictures of many points. The one that is wanted is painted at once where there is none that
 * looks alike; where only the view is another, the last one is moved and scaled while the crew
 * paints the sharp one.
 */
import type { Figure, Layer, Selection } from '../../api/figure'
import { radiusOf, toX, toY, type Frame, type View } from '../geometry'
import { paletteOf } from '../selection'
import { shade, type Theme } from '../theme'
import { Crew } from './crew'
import { Kernel } from './kernel'
import { paintScalar } from './scalar'
import { layShades, paintOf, shadesOf } from './shade'
import type { Band } from './worker'
import { pointsOf, RIM, type Points, type Sheet } from './sheet'
import { stampOf } from './stamps'

/** Told of pictures that are moved for now, and when the sharp one is there. */
export interface Later {
  moved: () => void
  sharp: () => void
}

/** What a picture shows: all of it but the view decides whether another is like it. */
interface Wanted {
  layer: Layer
  like: string
  sheet: Sheet
  ink: number[]
  pixelRatio: number
}

interface Picture {
  canvas: HTMLCanvasElement
  view: View
}

interface Kept {
  like: string
  points: Points
  last: Picture | null
  whole: Picture | null
}

export interface Scene {
  c: CanvasRenderingContext2D
  figure: Figure
  theme: Theme
  selection: Selection | null
  pixelRatio: number
  later?: Later
}

/** How long a hand rests before what it moved is painted where there is no crew, in milliseconds. */
const REST = 120
/** How long a hand rests before the crew paints, and after how long it does so although the hand moves. */
const PAUSE = 30
const PATIENCE = 500

const kept = new WeakMap<Layer, Kept>()
const waiting = new Map<Layer, { wanted: Wanted; sharp: () => void }>()
let kernel: Kernel | null | undefined
let crew: Crew | null | undefined
let busy = false
let sharpened = 0
let rested = true
let resting: ReturnType<typeof setTimeout> | undefined

/** Paints the points of a layer, exactly or, while a hand moves, as they were. */
export function paintMany(scene: Scene, layer: Layer, frame: Frame): void {
  const { c, pixelRatio, later } = scene
  const wanted = wantedOf(scene, layer, frame)
  let have = kept.get(layer)
  if (have?.like !== wanted.like) {
    have = { like: wanted.like, points: have?.like.split('\n')[0] === wanted.like.split('\n')[0] ? have.points : pointsOf(layer, scene.selection), last: null, whole: null }
    kept.set(layer, have)
  }
  wanted.sheet.stamps = have.points.kinds.map(({ shape, step, rim }) => stampFor(scene, layer, shape, step, rim))
  if (layer.style.shaded) wanted.sheet.shade = { paint: have.points.kinds.map(({ step, rim }) => (rim ? 0 : paintOf(radiusOfStep(layer, step), layer.style.opacity ?? 1))), width: frame.width, height: frame.height }
  if (have.last && !same(have.last.view, frame.view)) {
    if (later) {
      drawMoved(c, covers(have.last.view, frame.view) || !have.whole ? have.last : have.whole, frame)
      later.moved()
      ask({ wanted, sharp: later.sharp })
      return
    }
    have.last = null
  }
  if (!have.last) {
    const image = new Uint8ClampedArray(4 * wanted.sheet.width * wanted.sheet.height)
    if (kernel === undefined) kernel = Kernel.make()
    if (kernel) kernel.paint(have.points, wanted.sheet, image)
    else paintScalar(have.points, wanted.sheet, image)
    keep(have, wanted, [{ pixels: image, shades: sheetShades(have.points, wanted.sheet) }])
    if (later) sendAhead(have.points)
  }
  const { width, height } = wanted.sheet
  c.drawImage(have.last!.canvas, Math.floor(frame.left * pixelRatio) / pixelRatio, Math.floor(frame.top * pixelRatio) / pixelRatio, width / pixelRatio, height / pixelRatio)
}

function wantedOf({ figure, theme, selection, pixelRatio }: Scene, layer: Layer, frame: Frame): Wanted {
  const width = Math.ceil(frame.width * pixelRatio)
  const height = Math.ceil(frame.height * pixelRatio)
  const palette = paletteOf(figure, layer, theme)
  const shown = selection && (layer.keys?.colour === selection.key || layer.keys?.shape === selection.key) ? `${selection.key}:${selection.entries}` : ''
  return { layer, ink: channels(theme.ink), pixelRatio, like: [shown, palette.join(), layer.style.rim ? shade(theme, layer.style.rim) : '', width, height, pixelRatio].join('\n'), sheet: { width, height, top: 0, rows: height, view: frame.view, palette: withRim(palette, layer, theme), stamps: [] } }
}

const sheetShades = (points: Points, { shade, view }: Sheet) => (shade ? shadesOf(points, shade.paint, view, shade.width, shade.height) : null)

/** How long after a picture its points are sent to the crew, in milliseconds. */
const AHEAD = 400

function sendAhead(points: Points): void {
  setTimeout(() => {
    if (crew === undefined) crew = Crew.make()
    crew?.load(points)
  }, AHEAD)
}

/** The colours of entries, with that of the outline where there is one. */
function withRim(palette: string[], layer: Layer, theme: Theme): number[][] {
  const colours = palette.map(channels)
  if (layer.style.rim) colours[RIM] = channels(shade(theme, layer.style.rim))
  return colours
}

const channels = (hex: string) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16))

/** The radius of the points of a step. */
const radiusOfStep = (layer: Layer, step: number) => radiusOf({ ...layer, radius: layer.radius && Uint8Array.of(step) }, 0)

/** The stamp of a shape and a step of radius; the same for all pictures of a layer. */
const stamps = new WeakMap<Layer, Map<string, ReturnType<typeof stampOf>>>()

function stampFor({ figure, pixelRatio }: Scene, layer: Layer, shape: number, step: number, rim = false): ReturnType<typeof stampOf> {
  let made = stamps.get(layer)
  if (!made) stamps.set(layer, (made = new Map()))
  const key = `${shape} ${step} ${rim} ${pixelRatio}`
  let stamp = made.get(key)
  if (!stamp) {
    const name = layer.keys?.shape ? figure.keys[layer.keys.shape - 1].entries?.[shape]?.shape : undefined
    const radius = radiusOfStep(layer, step)
    made.set(key, (stamp = stampOf(name ?? layer.style.shape ?? 'circle', radius * pixelRatio, rim ? 1 : (layer.style.opacity ?? 1), rim ? layer.style.rim!.width * pixelRatio : 0)))
  }
  return stamp
}

const same = (a: View, b: View) => a.u0 === b.u0 && a.u1 === b.u1 && a.v0 === b.v0 && a.v1 === b.v1
const covers = (a: View, b: View) => a.u0 <= b.u0 && a.u1 >= b.u1 && a.v0 <= b.v0 && a.v1 >= b.v1

/** Keeps the bands of a picture as the last one, and as the one of the whole where it is that. */
function keep(have: Kept, { sheet, ink, pixelRatio }: Wanted, bands: Band[]): void {
  const canvas = document.createElement('canvas')
  canvas.width = sheet.width
  canvas.height = sheet.height
  const c = canvas.getContext('2d')!
  let top = 0
  for (const { pixels } of bands) {
    const rows = pixels.length / 4 / sheet.width
    if (rows === 0) continue
    c.putImageData(new ImageData(pixels as Uint8ClampedArray<ArrayBuffer>, sheet.width, rows), 0, top)
    top += rows
  }
  if (bands[0].shades) layShades(c, bands[0].shades, ink, pixelRatio)
  have.last = { canvas, view: sheet.view }
  if (!have.whole || covers(sheet.view, have.whole.view)) have.whole = have.last
}

/** Draws what a picture shows of a view, moved and scaled. */
function drawMoved(c: CanvasRenderingContext2D, { canvas, view }: Picture, frame: Frame): void {
  const u0 = Math.max(view.u0, frame.view.u0)
  const u1 = Math.min(view.u1, frame.view.u1)
  const v0 = Math.max(view.v0, frame.view.v0)
  const v1 = Math.min(view.v1, frame.view.v1)
  if (!(u1 > u0 && v1 > v0)) return
  const alongX = canvas.width / (view.u1 - view.u0)
  const alongY = canvas.height / (view.v1 - view.v0)
  c.drawImage(canvas, (u0 - view.u0) * alongX, (view.v1 - v1) * alongY, (u1 - u0) * alongX, (v1 - v0) * alongY, toX(frame, u0), toY(frame, v1), toX(frame, u1) - toX(frame, u0), toY(frame, v0) - toY(frame, v1))
}

/** Asks for the sharp picture; what was asked of the layer before is asked no more. */
function ask(order: { wanted: Wanted; sharp: () => void }): void {
  waiting.set(order.wanted.layer, order)
  if (crew === undefined) crew = Crew.make()
  clearTimeout(resting)
  if (crew) {
    const hands = crew
    if (rested) sharpened = performance.now() // a hand begins to move
    rested = false
    resting = setTimeout(() => {
      rested = true
      void work(hands)
    }, PAUSE)
    if (performance.now() - sharpened > PATIENCE) void work(hands)
    return
  }
  resting = setTimeout(() => {
    for (const { wanted, sharp } of waiting.values()) {
      const have = kept.get(wanted.layer)
      if (have?.like === wanted.like) have.last = null // the next paint does it
      sharp()
    }
    waiting.clear()
  }, REST)
}

/** Paints what waits: while a hand moves one picture, by one worker; when it rests, all of them by all. */
async function work(hands: Crew): Promise<void> {
  if (busy) return
  busy = true
  const moving = !rested
  try {
    for (let next = waiting.values().next().value; next && (rested || moving); next = moving ? undefined : waiting.values().next().value) {
      const { wanted, sharp } = next
      waiting.delete(wanted.layer)
      const have = kept.get(wanted.layer)
      if (have?.like !== wanted.like) continue
      const bands = await hands.paint(have.points, wanted.sheet, moving)
      sharpened = performance.now()
      if (kept.get(wanted.layer) === have) keep(have, wanted, bands)
      sharp()
    }
  } catch {
    crew = null // a worker that is refused later than it is made: from now on without
    for (const order of [...waiting.values()]) ask(order)
  } finally {
    busy = false
    if (rested && waiting.size > 0 && crew) void work(crew)
  }
}
