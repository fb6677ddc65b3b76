/** Where things stand on the canvas: the one geometry that painting and pointing share. */
import type { Figure } from '../api/figure'
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

/** The plot of a figure on a canvas of another size: margins stay, the span follows. */
export function frameOf(figure: Figure, width: number, height: number, view: View): Frame {
  const { plot } = figure
  return {
    left: plot.left,
    top: plot.top,
    width: Math.max(20, plot.width + width - figure.width),
    height: Math.max(20, plot.height + height - figure.height),
    view,
  }
}

export const toX = (f: Frame, u: number) => f.left + ((u - f.view.u0) / (f.view.u1 - f.view.u0)) * f.width
export const toY = (f: Frame, v: number) => f.top + f.height - ((v - f.view.v0) / (f.view.v1 - f.view.v0)) * f.height
export const fromX = (f: Frame, x: number) => f.view.u0 + ((x - f.left) / f.width) * (f.view.u1 - f.view.u0)
export const fromY = (f: Frame, y: number) => f.view.v0 + ((f.top + f.height - y) / f.height) * (f.view.v1 - f.view.v0)

export const seenX = (figure: Figure, view: View): Scale => part(figure.x, view.u0, view.u1)
export const seenY = (figure: Figure, view: View): Scale => part(figure.y, view.v0, view.v1)

/** The radius of a dot in CSS pixels. */
export function radiusOf(figure: Figure, dot: number): number {
  const { radius, largest_radius: largest, fixed_radius: fixed } = figure.dots
  return radius ? (radius[dot] / 255) * largest : fixed
}

/** Big dots first, so that small ones stay on top; null where all are of one size. */
export function paintOrder(figure: Figure): Uint32Array | null {
  const { radius, count } = figure.dots
  if (!radius) return null
  const starts = new Uint32Array(257)
  for (let i = 0; i < count; i++) starts[256 - radius[i]]++
  for (let i = 1; i < 257; i++) starts[i] += starts[i - 1]
  const order = new Uint32Array(count)
  for (let i = 0; i < count; i++) order[starts[255 - radius[i]]++] = i
  return order
}
