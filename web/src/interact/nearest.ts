/** Finds the mark or line that is pointed at. */
import type { Figure, Fit } from '../api/figure'
import { shown } from '../painter/dots'
import { radiusOf, toX, toY, type Frame } from '../painter/geometry'

/** The shown dot nearest to a place on the canvas, within reach pixels of its edge; -1 for none. Smaller dots win a tie: they lie on top. */
export function nearestDot(figure: Figure, frame: Frame, isolated: number | null, x: number, y: number, reach: number): number {
  const { dots } = figure
  const visible = shown(figure, isolated)
  const scaleX = frame.width / (frame.view.u1 - frame.view.u0)
  const scaleY = frame.height / (frame.view.v1 - frame.view.v0)
  const u = frame.view.u0 + (x - frame.left) / scaleX
  const v = frame.view.v0 + (frame.top + frame.height - y) / scaleY
  const limit = reach + dots.largest_radius
  const reachU = limit / scaleX
  let best = -1
  let bestDistance = limit * limit
  for (let i = 0; i < dots.count; i++) {
    const du = dots.x[i] - u
    if (du > reachU || du < -reachU) continue
    const dx = du * scaleX
    const dy = (dots.y[i] - v) * scaleY
    const distance = dx * dx + dy * dy
    if (distance > bestDistance || !visible(i)) continue
    const edge = reach + radiusOf(figure, i)
    if (distance > edge * edge) continue
    const p = dots.x[i]
    const q = dots.y[i]
    if (p < frame.view.u0 || p > frame.view.u1 || q < frame.view.v0 || q > frame.view.v1) continue
    best = i
    bestDistance = distance
  }
  return best
}

/** The fit whose line passes within reach pixels; null for none. */
export function nearestFit(figure: Figure, frame: Frame, isolated: number | null, x: number, y: number, reach: number): Fit | null {
  let best: Fit | null = null
  let bestDistance = reach
  for (const fit of figure.fits) {
    if (!fit.x || !fit.y || (isolated !== null && fit.group >= 0 && fit.group !== isolated)) continue
    for (let i = 1; i < fit.x.length; i++) {
      const d = distanceToSegment(x, y, toX(frame, fit.x[i - 1]), toY(frame, fit.y[i - 1]), toX(frame, fit.x[i]), toY(frame, fit.y[i]))
      if (d < bestDistance) {
        best = fit
        bestDistance = d
      }
    }
  }
  return best
}

function distanceToSegment(x: number, y: number, x0: number, y0: number, x1: number, y1: number): number {
  const dx = x1 - x0
  const dy = y1 - y0
  const length = dx * dx + dy * dy
  const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length))
  return Math.hypot(x - x0 - t * dx, y - y0 - t * dy)
}
