/** Paints over the chart: what is pointed at, and the same place along x in every panel. */
import { rowFinder, type Figure, type Layer, type Selection, type Shown } from '../figure/figure'
import { toX, toY, vertices, type Frame } from '../painter/geometry'
import { ends } from '../painter/primitives/lines'
import { shown } from '../painter/selection'
import type { Theme } from '../painter/theme'
import { pathAt, pointHit, type Hit } from './hit'

export function paintEmphasis(c: CanvasRenderingContext2D, figure: Figure, frames: Frame[], hit: Hit, theme: Theme): void {
  const layer = figure.layers[hit.layer]
  const f = frames[layer.panel]
  c.strokeStyle = theme.ink
  if (layer.primitive === 'points') {
    if (figure.manner?.guides === 'off') return ring(c, hit)
    const r = hit.radius + 2.5
    c.lineWidth = 1
    c.setLineDash([2, 3])
    c.beginPath()
    c.moveTo(f.left, hit.y)
    c.lineTo(hit.x - r, hit.y)
    c.moveTo(hit.x, hit.y + r)
    c.lineTo(hit.x, f.top + f.height)
    c.stroke()
    c.setLineDash([])
    ring(c, hit)
    return
  }
  outline(c, layer, f, hit.i)
}

function ring(c: CanvasRenderingContext2D, hit: Hit): void {
  c.lineWidth = 2
  c.beginPath()
  c.arc(hit.x, hit.y, hit.radius + 2.5, 0, 2 * Math.PI)
  c.stroke()
}

/** Which points a row is, by layer. */
const places = new WeakMap<Layer, Map<number, number>>()

function pointOf(layer: Layer, row: number): number | undefined {
  let of = places.get(layer)
  if (!of) {
    const rowOf = rowFinder(layer)
    places.set(layer, (of = new Map(Array.from({ length: layer.count }, (_, i) => [rowOf(i), i]))))
  }
  return of.get(row)
}

/** Rings a row that is pointed at in another chart. */
export function paintBeside(c: CanvasRenderingContext2D, figure: Figure, frames: Frame[], row: number, theme: Theme): void {
  c.strokeStyle = theme.ink
  figure.layers.forEach((layer, at) => {
    if (!layer.rows || layer.primitive !== 'points') return
    const i = pointOf(layer, row)
    if (i !== undefined) ring(c, pointHit(layer, at, frames[layer.panel], i))
  })
}

/** The edge of a primitive that is no point. */
function outline(c: CanvasRenderingContext2D, layer: Layer, f: Frame, i: number): void {
  c.lineWidth = layer.primitive === 'paths' ? (layer.style.width ?? 2) + 1.5 : 2
  c.save()
  c.beginPath()
  c.rect(f.left - 2, f.top - 2, f.width + 4, f.height + 4)
  c.clip()
  c.beginPath()
  if (layer.primitive === 'rects') {
    const [x, y, x2, y2] = ends(layer, f, i)
    c.rect(Math.min(x, x2), Math.min(y, y2), Math.abs(x2 - x), Math.abs(y2 - y))
  } else if (layer.primitive === 'segments') {
    const [x, y, x2, y2] = ends(layer, f, i)
    c.moveTo(x, y)
    c.lineTo(x2, y2)
  } else {
    const [from, to] = vertices(layer, i)
    for (let k = from; k < to; k++) c.lineTo(toX(f, layer.x![k]), toY(f, layer.y![k]))
    if (layer.primitive === 'polygons') c.closePath()
  }
  c.stroke()
  c.restore()
}

/** Lights what a sentence speaks of: rings about rows, and the edges of lines and groups, in copper. */
export function paintShown(c: CanvasRenderingContext2D, figure: Figure, frames: Frame[], speaks: Shown, theme: Theme): void {
  const rows = new Set(speaks.rows ?? [])
  const names = new Set([...(speaks.lines ?? []), ...(speaks.groups ?? [])])
  c.strokeStyle = theme.copper
  figure.layers.forEach((layer, at) => {
    const f = frames[layer.panel]
    const rowOf = rows.size > 0 && layer.rows ? rowFinder(layer) : undefined
    const isFit = layer.primitive === 'paths'
    if (layer.primitive === 'areas' || layer.primitive === 'texts' || (layer.primitive !== 'points' && speaks.lines && !isFit)) return
    for (let i = 0; i < layer.count; i++) {
      const named = layer.cards?.[i]?.heading
      if (!(named !== undefined && names.has(named)) && !(rowOf && rows.has(rowOf(i)))) continue
      if (layer.primitive === 'points') ring(c, pointHit(layer, at, f, i))
      else outline(c, layer, f, i)
    }
  })
}

/** A line at the same place along x in every panel, with a ring where it meets each path. */
export function paintSameX(
  c: CanvasRenderingContext2D,
  figure: Figure,
  frames: Frame[],
  selection: Selection | null,
  u: number,
  theme: Theme,
): void {
  frames.forEach((f, panel) => {
    if (u < f.view.u0 || u > f.view.u1) return
    const x = toX(f, u)
    c.strokeStyle = theme.ink
    c.globalAlpha = 0.55
    c.lineWidth = 1
    c.setLineDash([2, 3])
    c.beginPath()
    c.moveTo(x, f.top)
    c.lineTo(x, f.top + f.height)
    c.stroke()
    c.setLineDash([])
    c.globalAlpha = 1
    for (const layer of figure.layers) {
      if (layer.panel !== panel || layer.primitive !== 'paths') continue
      const visible = shown(layer, selection)
      for (let i = 0; i < layer.count; i++) {
        const v = visible(i) ? pathAt(layer, i, u) : null
        if (v === null || v < f.view.v0 || v > f.view.v1) continue
        c.beginPath()
        c.arc(x, toY(f, v), 3.5, 0, 2 * Math.PI)
        c.fillStyle = theme.paper
        c.fill()
        c.lineWidth = 1.8
        c.stroke()
      }
    }
  })
}
