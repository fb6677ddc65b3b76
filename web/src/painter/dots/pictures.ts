/**
 * Pictures of many points of one chart. The one that is wanted is painted at once where there is none that
 * looks alike; where only the view is another, the last one is moved and scaled while the crew
 * paints the sharp one.
 */
import type { Figure, Layer, Selection } from '../../figure/figure'
import { radiusOf, toX, toY, type Frame, type View } from '../geometry'
import { paletteOf } from '../selection'
import { isCharacter } from '../shapes'
import { shade, type Theme } from '../theme'
import { hands as shared, type Hands } from './hands'
import { letterStamp } from './letters'
import { paintOf } from './shade'
import type { Band } from './worker'
import { Sharpener } from './sharpener'
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
}

/** How long after a picture its points are sent to the crew, in milliseconds. */
const AHEAD = 400

export class Pictures {
  private readonly kept = new WeakMap<Layer, Kept>()
  /** The stamps of points at a pixel ratio: the same for all their pictures. */
  private readonly stamps = new WeakMap<Points, { pixelRatio: number; stamps: Stamps }>()
  private readonly sharpener: Sharpener<Layer>

  /** Without anybody to tell of pictures that are moved, each is painted at once. */
  constructor(
    private readonly later?: Later,
    private readonly hands: Hands = shared,
  ) {
    this.sharpener = new Sharpener(hands)
  }

  /** Paints the points of a layer, exactly or, while a hand moves, as they were. */
  paint(scene: Scene, layer: Layer, frame: Frame): void {
    const { c, pixelRatio } = scene
    const wanted = wantedOf(scene, layer, frame)
    const have = this.keptOf(scene, layer, wanted)
    wanted.sheet.stamps = this.stampsOf(scene, layer, have.points)
    if (layer.style.shaded) wanted.sheet.shade = shadeOf(scene, layer, have.points, frame)
    if (have.last && !same(have.last.view, frame.view)) {
      if (this.later) {
        drawMoved(c, covers(have.last.view, frame.view) || !have.whole ? have.last : have.whole, frame)
        this.later.moved()
        this.askFor(wanted, this.later)
        return
      }
      letGo(have)
    }
    if (!have.last) {
      keep(have, wanted, [this.hands.paint(have.points, wanted.sheet)])
      if (this.later) setTimeout(() => this.hands.crew?.load(have.points), AHEAD)
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

  /** What is kept of a layer; of one that looks otherwise now, its points and a canvas to paint on. */
  private keptOf(scene: Scene, layer: Layer, { like }: Wanted): Kept {
    const before = this.kept.get(layer)
    if (before?.like === like) return before
    const have: Kept = {
      like,
      points: before?.like.split('\n')[0] === like.split('\n')[0] ? before.points : pointsOf(layer, scene.selection),
      last: null,
      whole: null,
      spare: before?.last ?? before?.whole ?? null,
    }
    this.kept.set(layer, have)
    return have
  }

  private askFor(wanted: Wanted, later: Later): void {
    const have = () => {
      const now = this.kept.get(wanted.layer)
      return now?.like === wanted.like ? now : null
    }
    let asked: Kept | null = null
    this.sharpener.ask(wanted.layer, {
      sheet: wanted.sheet,
      points: () => (asked = have())?.points ?? null,
      take: (bands) => {
        if (asked && have() === asked) keep(asked, wanted, bands)
        later.sharp()
      },
      leave: () => {
        const now = have()
        if (now) letGo(now) // the next paint does it
        later.sharp()
      },
    })
  }

  private stampsOf({ figure, pixelRatio }: Scene, layer: Layer, points: Points): Stamps {
    let made = this.stamps.get(points)
    if (made?.pixelRatio !== pixelRatio) {
      made = { pixelRatio, stamps: packed(points.kinds.map((kind) => stampFor(figure, layer, kind, pixelRatio))) }
      this.stamps.set(points, made)
    }
    return made.stamps
  }
}

/** How crowded points are shaded. */
function shadeOf({ theme }: Scene, layer: Layer, points: Points, { width, height }: Frame): NonNullable<Sheet['shade']> {
  const paint = Float32Array.from(points.kinds, ({ step, rim }) => (rim ? 0 : paintOf(radiusOfStep(layer, step), layer.style.opacity ?? 1)))
  return { paint, ink: channels(theme.ink), width, height }
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
