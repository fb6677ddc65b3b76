/** Paints a figure onto a canvas it is given. No framework, no document beyond canvases. */
import type { Figure, Layer, Selection } from '../figure/figure'
import { Crowd } from './crowd'
import { paintGrid, paintTicks, paintWords } from './axes'
import { framesOf, type Frame, type View } from './geometry'
import type { Pictures } from './dots/pictures'
import { PAINT } from './primitives'
import type { Brush } from './primitives/brush'
import type { Theme } from './theme'

/** What stands left of the labels along y: the gap, and the axis's title. */
const TITLE_ROOM = 44

export interface PaintOptions {
  theme: Theme
  selection: Selection | null
  pixelRatio: number
  /** Lets many points stay as they were painted last, moved and scaled, until the sharp picture is there. */
  pictures?: Pictures
  /** Told how many words found no room on a paper smaller than the layout's. */
  unseated?: (words: number) => void
}

/** Paints all of a figure; gives the frames of its panels. */
export function paintFigure(
  c: CanvasRenderingContext2D,
  figure: Figure,
  width: number,
  height: number,
  view: View,
  options: PaintOptions,
): Frame[] {
  const crowd = Crowd.on(figure, width, height)
  const brush: Brush = { c, figure, crowd, ...options }
  const { theme, pixelRatio } = options
  c.setTransform(pixelRatio, 0, 0, pixelRatio, 0, 0)
  c.globalAlpha = 1
  c.fillStyle = theme.paper
  c.fillRect(0, 0, width, height)
  const frames = framesOf(figure, width, height, view)
  frames.forEach((f, panel) => paintGrid(c, figure, panel, f, theme))
  for (const layer of figure.layers) paintLayer(brush, layer, frames[layer.panel])
  const widest = frames.map((f, panel) => paintTicks(c, figure, panel, f, theme))
  // Deep in, labels have many digits: they take the room of the axis's title.
  const crowded = widest.some((w, i) => w > frames[i].left - TITLE_ROOM)
  paintWords(c, figure, width, height, theme, crowded ? 'y' : null)
  options.unseated?.(crowd?.left ?? 0)
  return frames
}

/** Paints a layer, cut at the edge of its panel unless it stands above it. */
function paintLayer(brush: Brush, layer: Layer, f: Frame): void {
  const paint = PAINT[layer.primitive]
  if (!paint) return // of a later version: what is known is painted
  if (layer.style.above) {
    paint(brush, layer, f)
    return
  }
  const { c } = brush
  c.save()
  c.beginPath()
  c.rect(f.left, f.top, f.width, f.height)
  c.clip()
  paint(brush, layer, f)
  c.restore()
}
