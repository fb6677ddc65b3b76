/** Where things stand on the canvas: the one geometry that painting and pointing share. */
import { scaleX, scaleY, type Figure, type Layer } from '../figure/figure'
import { part, type Scale } from '../scale/scale'

/** The stretch of positions that is seen along each axis; 0 to 1 is the whole figure. */
export interface View {
  u0: number
  u1: number
  v0: number
  v1: number
}

export const WHOLE: View = { u0: 0, u1: 1, v0: 0, v1: 1 }

export const isWhole = (view: View) => view.u0 === 0 && view.u1 === 1 && view.v0 === 0 && view.v1 === 1

export interface Frame {
  left: number
  top: number
  width: number
  height: number
  view: View
}

/** Maps a place on the figure's own paper to one of another size: margins stay, what lies between them follows. */
export function fitting(low: number, high: number, size: number, wanted: number): (at: number) => number {
  const factor = Math.max(20, high - low + wanted - size) / (high - low)
  return (at) => (at <= low ? at : at >= high ? at + wanted - size : low + (at - low) * factor)
}

export interface Paper {
  x: (at: number) => number
  y: (at: number) => number
}

/** How a figure's paper maps to a canvas. */
export function paperOf(figure: Figure, width: number, height: number): Paper {
  const boxes = figure.panels.map((p) => p.box)
  const least = (of: (b: (typeof boxes)[0]) => number) => Math.min(...boxes.map(of))
  const most = (of: (b: (typeof boxes)[0]) => number) => Math.max(...boxes.map(of))
  return {
    x: fitting(
      least((b) => b.left),
      most((b) => b.left + b.width),
      figure.width,
      width,
    ),
    y: fitting(
      least((b) => b.top),
      most((b) => b.top + b.height),
      figure.height,
      height,
    ),
  }
}

/** The frame of a panel on a canvas of another size. */
export function frameOf(figure: Figure, panel: number, width: number, height: number, view: View): Frame {
  const paper = paperOf(figure, width, height)
  const { box, edge } = figure.panels[panel]
  // What stands along an edge is looked at more closely along its axis alone.
  if (edge) view = edge === 'x' ? { ...view, v0: 0, v1: 1 } : { ...view, u0: 0, u1: 1 }
  const left = paper.x(box.left)
  const top = paper.y(box.top)
  return {
    left,
    top,
    width: Math.max(4, paper.x(box.left + box.width) - left),
    height: Math.max(4, paper.y(box.top + box.height) - top),
    view,
  }
}

export const framesOf = (figure: Figure, width: number, height: number, view: View): Frame[] =>
  figure.panels.map((_, i) => frameOf(figure, i, width, height, view))

export const toX = (f: Frame, u: number) => f.left + ((u - f.view.u0) / (f.view.u1 - f.view.u0)) * f.width
export const toY = (f: Frame, v: number) => f.top + f.height - ((v - f.view.v0) / (f.view.v1 - f.view.v0)) * f.height
export const fromX = (f: Frame, x: number) => f.view.u0 + ((x - f.left) / f.width) * (f.view.u1 - f.view.u0)
export const fromY = (f: Frame, y: number) => f.view.v0 + ((f.top + f.height - y) / f.height) * (f.view.v1 - f.view.v0)

export const inside = (f: Frame, x: number, y: number) => x >= f.left && x <= f.left + f.width && y >= f.top && y <= f.top + f.height

export const seenX = (figure: Figure, panel: number, view: View): Scale => part(scaleX(figure, panel), view.u0, view.u1)
export const seenY = (figure: Figure, panel: number, view: View): Scale => part(scaleY(figure, panel), view.v0, view.v1)

/** The radius of a point in CSS pixels. */
export function radiusOf(layer: Layer, point: number): number {
  const { radius, style } = layer
  return radius ? (radius[point] / 255) * style.largest_radius! : (style.fixed_radius ?? 0)
}

/** Where the vertices of a path, an area or a polygon begin, and where they have ended. */
export function vertices(layer: Layer, i: number): [number, number] {
  const start = layer.start!
  return [start[i], i + 1 < start.length ? start[i + 1] : layer.x!.length]
}

/** Big points first, so that small ones stay on top; null where all are of one size. */
export function paintOrder(layer: Layer): Uint32Array | null {
  const { radius, count, front, colour } = layer
  if (!radius && !front?.length) return null
  // Those of groups that lie in front last, and big points before small ones.
  const level = (i: number) => (radius ? 255 - radius[i] : 0) + (front && colour ? 256 * (1 + front.indexOf(colour[i])) : 0)
  const starts = new Uint32Array(256 * (2 + (front?.length ?? 0)) + 1)
  for (let i = 0; i < count; i++) starts[level(i) + 1]++
  for (let i = 1; i < starts.length; i++) starts[i] += starts[i - 1]
  const order = new Uint32Array(count)
  for (let i = 0; i < count; i++) order[starts[level(i)]++] = i
  return order
}
