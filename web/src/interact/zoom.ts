/** What is seen of a figure, and how a hand changes it. */
import type { View } from '../painter/geometry'

/** The smallest stretch of an axis that a figure's positions still tell apart. */
const DEEPEST = 1e-5
const WIDEST = 20

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

/** From how small a part of an axis on whole steps of its positions are seen. */
const DEEP = 1 / 60

/** Whether a view is so close that dots of whole steps stand beside where they belong. */
export const isDeep = (view: View): boolean => Math.min(view.u1 - view.u0, view.v1 - view.v0) < DEEP
