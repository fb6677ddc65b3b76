/** What is seen of a figure, and how a hand changes it. */
import type { Figure } from '../figure/figure'
import type { View } from '../painter/geometry'

/** The smallest stretch of an axis that a figure's positions still tell apart. */
const DEEPEST = 1e-5
const WIDEST = 1000

/** Zooms about a place, in shares of the axes. */
export function zoomed(view: View, factor: number, u: number, v: number): View {
  const { u0, u1, v0, v1 } = view
  return { u0: u - (u - u0) * factor, u1: u + (u1 - u) * factor, v0: v - (v - v0) * factor, v1: v + (v1 - v) * factor }
}

export const panned = (view: View, du: number, dv: number): View => ({
  u0: view.u0 + du,
  u1: view.u1 + du,
  v0: view.v0 + dv,
  v1: view.v1 + dv,
})

/** Whether a view is neither too deep nor too wide. */
export function allowed(view: View): boolean {
  const spans = [view.u1 - view.u0, view.v1 - view.v0]
  return Math.min(...spans) >= DEEPEST && Math.max(...spans) <= WIDEST
}

/** How far beyond the axes a mark may lie and count as within, and how much room stays about all of them. */
const SLACK = 0.001
const ROOM = 0.03

/** Found once a figure. */
const found = new WeakMap<Figure, View | null>()

/** What must be seen for every row to be seen, where some lie beyond the limits that are set; null: none do. */
export function wider(figure: Figure): View | null {
  if (!found.has(figure)) found.set(figure, figure.rows.outside > 0 ? beyond(figure) : null)
  return found.get(figure)!
}

/** What must be seen for every mark to be seen, where some lie beyond the axes; null: none do. */
function beyond(figure: Figure): View | null {
  let [u0, u1, v0, v1] = [0, 1, 0, 1]
  for (const layer of figure.layers) {
    if (layer.primitive === 'texts') continue
    for (const us of [layer.x, layer.x2]) for (const u of us ?? []) if (Number.isFinite(u)) [u0, u1] = [Math.min(u0, u), Math.max(u1, u)]
    for (const vs of [layer.y, layer.y2]) for (const v of vs ?? []) if (Number.isFinite(v)) [v0, v1] = [Math.min(v0, v), Math.max(v1, v)]
  }
  if (u0 > -SLACK && u1 < 1 + SLACK && v0 > -SLACK && v1 < 1 + SLACK) return null
  const wide = (low: number, high: number) => [
    low < -SLACK ? low - ROOM * (high - low) : 0,
    high > 1 + SLACK ? high + ROOM * (high - low) : 1,
  ]
  const [[a0, a1], [b0, b1]] = [wide(u0, u1), wide(v0, v1)]
  return { u0: a0, u1: a1, v0: b0, v1: b1 }
}

/** From how small a part of an axis on whole steps of its positions are seen. */
const DEEP = 1 / 60

/** Whether a view is so close that dots of whole steps stand beside where they belong. */
export const isDeep = (view: View): boolean => Math.min(view.u1 - view.u0, view.v1 - view.v0) < DEEP
