/** Paints paths, areas, polygons and segments. */
import type { Layer } from '../../figure/figure'
import { paintOrder, toX, toY, vertices, type Frame } from '../geometry'
import { colourOf, paletteOf, shown } from '../selection'
import { plain, rim, stroke, type Brush, type Paint } from './brush'
import { covered, gathered, seen, solid, THIN_ABOVE } from './thin'

/** Calls paint for every primitive that is shown, with its colour. */
function each({ figure, theme, selection }: Brush, layer: Layer, paint: (i: number, colour: string) => void): void {
  const palette = paletteOf(figure, layer, theme)
  const visible = shown(layer, selection)
  const order = layer.front?.length ? paintOrder(layer) : null
  for (let k = 0; k < layer.count; k++) {
    const i = order ? order[k] : k
    if (visible(i)) paint(i, colourOf(palette, layer, i))
  }
}

function trace(c: CanvasRenderingContext2D, layer: Layer, f: Frame, along: number[]): void {
  c.beginPath()
  for (const k of along) c.lineTo(toX(f, layer.x![k]), toY(f, layer.y![k]))
}

export const paintPaths: Paint = (brush, layer, f) => {
  const { c } = brush
  c.globalAlpha = layer.style.opacity ?? 1
  each(brush, layer, (i, colour) => {
    const columns = solid(layer, f, ...vertices(layer, i), brush.pixelRatio)
    if (columns) {
      const half = (layer.style.width ?? 1) / 2
      c.fillStyle = colour
      for (const { x, top, bottom } of columns) c.fillRect(x, top - half, 1 / brush.pixelRatio, bottom - top + 2 * half)
      return
    }
    trace(c, layer, f, seen(layer, f, ...vertices(layer, i), brush.pixelRatio))
    const own = layer.keys?.colour && layer.colour ? brush.figure.keys[layer.keys.colour - 1].entries?.[layer.colour[i]]?.dash : null // of its group
    if (stroke(c, own && !layer.style.dash?.length ? { ...layer.style, dash: own } : layer.style, colour)) c.stroke()
  })
  plain(c)
}

export const paintAreas: Paint = (brush, layer, f) => {
  const { c } = brush
  each(brush, layer, (i, colour) => {
    const [from, to] = vertices(layer, i)
    const columns = solid(layer, f, from, to, brush.pixelRatio)
    if (columns) {
      c.globalAlpha = layer.style.opacity ?? 1
      c.fillStyle = colour
      for (const { x, top, bottom } of columns) c.fillRect(x, top, 1 / brush.pixelRatio, bottom - top)
      return
    }
    if (to - from > THIN_ABOVE) {
      const edges = covered(layer, f, from, to, brush.pixelRatio)
      c.beginPath()
      edges.x.forEach((x, k) => c.lineTo(x, edges.top[k]))
      for (let k = edges.x.length - 1; k >= 0; k--) c.lineTo(edges.x[k], edges.bottom[k])
    } else {
      trace(c, layer, f, seen(layer, f, from, to, brush.pixelRatio))
      for (let k = to - 1; k >= from; k--) c.lineTo(toX(f, layer.x![k]), toY(f, layer.y2![k]))
    }
    c.closePath()
    c.globalAlpha = layer.style.opacity ?? 1
    c.fillStyle = colour
    c.fill()
  })
  plain(c)
}

export const paintPolygons: Paint = (brush, layer, f) => {
  const { c } = brush
  each(brush, layer, (i, colour) => {
    trace(c, layer, f, seen(layer, f, ...vertices(layer, i), brush.pixelRatio))
    c.closePath()
    if (layer.style.fill) {
      c.globalAlpha = layer.style.opacity ?? 1
      c.fillStyle = colour
      c.fill()
      c.globalAlpha = 1
    }
    if (rim(c, layer.style, brush.theme) || stroke(c, layer.style, colour)) c.stroke()
  })
  plain(c)
}

export const paintSegments: Paint = (brush, layer, f) => {
  const { c } = brush
  const cap = layer.style.cap ?? 0
  if (layer.count > THIN_ABOVE && cap === 0 && upright(layer)) return paintUpright(brush, layer, f)
  each(brush, layer, (i, colour) => {
    const [x, y, x2, y2] = ends(layer, f, i)
    if (!stroke(c, layer.style, colour)) return
    c.beginPath()
    c.moveTo(x, y)
    c.lineTo(x2, y2)
    if (cap > 0) {
      const length = Math.hypot(x2 - x, y2 - y) || 1
      const [nx, ny] = [(-(y2 - y) / length) * cap, ((x2 - x) / length) * cap]
      for (const [ex, ey] of [
        [x, y],
        [x2, y2],
      ]) {
        c.moveTo(ex - nx, ey - ny)
        c.lineTo(ex + nx, ey + ny)
      }
    }
    c.stroke()
  })
  plain(c)
}

const uprights = new WeakMap<Layer, boolean>()

function upright(layer: Layer): boolean {
  let is = uprights.get(layer)
  if (is === undefined) uprights.set(layer, (is = !layer.dx && layer.x!.every((x, i) => x === layer.x2![i])))
  return is
}

/** Thousands of upright segments: those of one colour in one column of pixels as one. */
function paintUpright(brush: Brush, layer: Layer, f: Frame): void {
  const { c } = brush
  const palette = paletteOf(brush.figure, layer, brush.theme)
  for (const { entry, at } of gathered(layer, f, shown(layer, brush.selection), brush.pixelRatio)) {
    if (!((layer.style.width ?? 0) > 0)) return
    // Rectangles of whole pixels: thousands of lines with soft edges would hold each frame.
    const width = Math.max(1, Math.round(layer.style.width! * brush.pixelRatio)) / brush.pixelRatio
    c.fillStyle = palette[palette.length > 1 ? entry : 0] ?? palette[0]
    for (const { x, from, to } of at) c.fillRect(Math.floor(x * brush.pixelRatio) / brush.pixelRatio, from, width, to - from)
  }
  plain(c)
}

/** The ends of a segment, or opposite corners of a rect, on the canvas. */
export const ends = (layer: Layer, f: Frame, i: number): [number, number, number, number] => [
  toX(f, layer.x![i]),
  toY(f, layer.y![i]),
  toX(f, layer.x2![i]) + (layer.dx?.[i] ?? 0),
  toY(f, layer.y2![i]) + (layer.dy?.[i] ?? 0),
]

export const paintRects: Paint = (brush, layer, f) => {
  const { c } = brush
  // A width below zero leaves paper between neighbours.
  const gap = (layer.style.width ?? 0) < 0 ? -layer.style.width! / 2 : 0
  each(brush, layer, (i, colour) => {
    const [x, y, x2, y2] = ends(layer, f, i)
    const [left, top, width, height] = [Math.min(x, x2) + gap, Math.min(y, y2), Math.max(Math.abs(x2 - x) - 2 * gap, 0.5), Math.abs(y2 - y)]
    if (layer.style.fill) {
      c.globalAlpha = layer.style.opacity ?? 1
      c.fillStyle = colour
      c.fillRect(left, top, width, height)
      c.globalAlpha = 1
    }
    if (rim(c, layer.style, brush.theme) || stroke(c, layer.style, colour)) c.strokeRect(left, top, width, height)
  })
  plain(c)
}
