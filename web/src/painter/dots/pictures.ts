/**
 * Pictures of many points. The one that is wanted is painted at once where there is none that
 * looks alike; where only the view is another, the last one is moved and scaled while the crew
 * paints the sharp one.
 */
import type { Figure, Layer, Selection } from '../../figure/figure'
import { radiusOf, toX, toY, type Frame, type View } from '../geometry'
import { paletteOf } from '../selection'
import { isCharacter } from '../shapes'
import { shade, type Theme } from '../theme'
import { Crew } from './crew'
import { Kernel } from './kernel'
import { paintScalar } from './scalar'
import { letterStamp } from './letters'
import { paintOf } from './shade'
import type { Band } from './worker'
import { pointsOf, RIM, type Points, type Sheet } from './sheet'
import { packed, stampOf, trimmed, type Stamp, type Stamps } from './stamps'

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
  /** A picture that is shown no more, for the next. */
  spare: Picture | null
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
    have = {
      like: wanted.like,
      points: have?.like.split('\n')[0] === wanted.like.split('\n')[0] ? have.points : pointsOf(layer, scene.selection),
      last: null,
      whole: null,
      spare: have?.last ?? have?.whole ?? null,
    }
    kept.set(layer, have)
  }
  wanted.sheet.stamps = stampsOf(scene, layer, have.points)
  if (layer.style.shaded)
    wanted.sheet.shade = {
      paint: Float32Array.from(have.points.kinds, ({ step, rim }) =>
        rim ? 0 : paintOf(radiusOfStep(layer, step), layer.style.opacity ?? 1),
      ),
      ink: channels(scene.theme.ink),
      width: frame.width,
      height: frame.height,
    }
  if (have.last && !same(have.last.view, frame.view)) {
    if (later) {
      drawMoved(c, covers(have.last.view, frame.view) || !have.whole ? have.last : have.whole, frame)
      later.moved()
      ask({ wanted, sharp: later.sharp })
      return
    }
    letGo(have)
  }
  if (!have.last) {
    if (kernel === undefined) kernel = Kernel.make()
    keep(have, wanted, [kernel ? kernel.paint(have.points, wanted.sheet) : paintScalar(have.points, wanted.sheet)])
    if (later) sendAhead(have.points)
  }
  const { width, height } = wanted.sheet
  c.drawImage(
    have.last!.canvas,
    Math.floor(frame.left * pixelRatio) / pixelRatio,
    Math.floor(frame.top * pixelRatio) / pixelRatio,
    width / pixelRatio,
    height / pixelRatio,
  )
}

function wantedOf({ figure, theme, selection, pixelRatio }: Scene, layer: Layer, frame: Frame): Wanted {
  const width = Math.ceil(frame.width * pixelRatio)
  const height = Math.ceil(frame.height * pixelRatio)
  const palette = paletteOf(figure, layer, theme)
  const shown =
    selection && (layer.keys?.colour === selection.key || layer.keys?.shape === selection.key)
      ? `${selection.key}:${selection.entries}`
      : ''
  return {
    layer,
    like: [shown, palette.join(), theme.ink, layer.style.rim ? shade(theme, layer.style.rim) : '', width, height, pixelRatio].join('\n'),
    sheet: { width, height, top: 0, rows: height, view: frame.view, palette: withRim(palette, layer, theme), stamps: NO_STAMPS },
  }
}

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

const NO_STAMPS = packed([])
/** The outline of a letter: it has none. */
const NOTHING = trimmed(0, new Float32Array(1))

/** The stamps of points at a pixel ratio: the same for all their pictures. */
const stamps = new WeakMap<Points, { pixelRatio: number; stamps: Stamps }>()

function stampsOf({ figure, pixelRatio }: Scene, layer: Layer, points: Points): Stamps {
  let made = stamps.get(points)
  if (made?.pixelRatio !== pixelRatio)
    stamps.set(points, (made = { pixelRatio, stamps: packed(points.kinds.map((kind) => stampFor(figure, layer, kind, pixelRatio))) }))
  return made.stamps
}

function stampFor(figure: Figure, layer: Layer, { shape, step, rim }: Points['kinds'][0], pixelRatio: number): Stamp {
  const name = (layer.keys?.shape ? figure.keys[layer.keys.shape - 1].entries?.[shape]?.shape : undefined) ?? layer.style.shape ?? 'circle'
  if (isCharacter(name)) return rim ? NOTHING : letterStamp(name, radiusOfStep(layer, step), pixelRatio)
  return stampOf(
    name,
    radiusOfStep(layer, step) * pixelRatio,
    rim ? 1 : (layer.style.opacity ?? 1),
    rim ? layer.style.rim!.width * pixelRatio : 0,
  )
}

const same = (a: View, b: View) => a.u0 === b.u0 && a.u1 === b.u1 && a.v0 === b.v0 && a.v1 === b.v1
const covers = (a: View, b: View) => a.u0 <= b.u0 && a.u1 >= b.u1 && a.v0 <= b.v0 && a.v1 >= b.v1

/** The last picture is shown no more. */
function letGo(have: Kept): void {
  if (have.last !== have.whole) have.spare = have.last
  have.last = null
}

/** Keeps the bands of a picture as the last one, and as the one of the whole where it is that. */
function keep(have: Kept, { sheet }: Wanted, bands: Band[]): void {
  const canvas = canvasFor(have, sheet)
  const c = canvas.getContext('2d')!
  let top = 0
  for (const band of bands) {
    const rows = band.length / 4 / sheet.width
    if (rows === 0) continue
    c.putImageData(new ImageData(band, sheet.width, rows), 0, top)
    top += rows
  }
  have.last = { canvas, view: sheet.view }
  if (!have.whole || covers(sheet.view, have.whole.view)) have.whole = have.last
}

/** A canvas for the next picture: that of the last one, where it is not kept for the whole; the first writing on a new one takes longer than all the rest. */
function canvasFor(have: Kept, { width, height, view }: Sheet): HTMLCanvasElement {
  const free = have.last && (have.last !== have.whole || covers(view, have.whole.view)) ? have.last : have.spare
  have.spare = null
  if (free && free.canvas.width === width && free.canvas.height === height) return free.canvas
  return Object.assign(document.createElement('canvas'), { width, height })
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
  c.drawImage(
    canvas,
    (u0 - view.u0) * alongX,
    (view.v1 - v1) * alongY,
    (u1 - u0) * alongX,
    (v1 - v0) * alongY,
    toX(frame, u0),
    toY(frame, v1),
    toX(frame, u1) - toX(frame, u0),
    toY(frame, v0) - toY(frame, v1),
  )
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
      if (have?.like === wanted.like) letGo(have) // the next paint does it
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
