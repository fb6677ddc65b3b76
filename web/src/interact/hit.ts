/** Finds the primitive that is pointed at, from the geometry that it is painted by. */
import type { Figure, Layer, Selection } from '../figure/figure'
import { inside, radiusOf, toX, toY, vertices, type Frame } from '../painter/geometry'
import { gridOf } from './grid'
import { ends } from '../painter/primitives/lines'
import { shown } from '../painter/selection'

/** A primitive, and where on the canvas it is pointed at. */
export interface Hit {
  layer: number
  i: number
  x: number
  y: number
  /** How far it reaches from there. */
  radius: number
}

/** How near to a line, in pixels, it is the line that is pointed at. */
const LINE_REACH = 3
/** How near to a line it is found where nothing else is. */
const LOOSE_REACH = 10

/**
 * The primitive at a place on the canvas. What lies on top is found first; a point is found
 * from as far as reach pixels beyond its edge, where nothing is hit more closely.
 */
export function hitAt(figure: Figure, frames: Frame[], selection: Selection | null, x: number, y: number, reach: number): Hit | null {
  const panel = frames.findIndex((f) => inside(f, x, y))
  if (panel < 0) return null
  const frame = frames[panel]
  let loose: Hit | null = null
  for (let at = figure.layers.length - 1; at >= 0; at--) {
    const layer = figure.layers[at]
    if (layer.panel !== panel || !(layer.rows || layer.cards?.length)) continue
    if (layer.primitive === 'points') {
      const i = nearestPoint(layer, frame, selection, x, y, reach)
      if (i < 0) continue
      const hit = pointHit(layer, at, frame, i)
      if (Math.hypot(hit.x - x, hit.y - y) <= hit.radius + 1) return hit
      loose ??= hit
      continue
    }
    const hit = FIND[layer.primitive]?.(layer, at, frame, shown(layer, selection), x, y)
    if (hit) return hit
  }
  return loose ?? looseLine(figure, panel, frame, selection, x, y)
}

export const pointHit = (layer: Layer, at: number, f: Frame, i: number): Hit => ({
  layer: at,
  i,
  x: toX(f, layer.x![i]),
  y: toY(f, layer.y![i]),
  radius: radiusOf(layer, i),
})

/** Where a mark begins among the places of its layer: its first vertex, or itself. */
export const beginOf = (layer: Layer, i: number): number => (layer.start ? layer.start[i] : i)

/** A mark of any kind as if it were pointed at where it begins. */
export function markHit(figure: Figure, frames: Frame[], layer: number, i: number): Hit {
  const of = figure.layers[layer]
  const radius = of.primitive === 'points' ? of.radius : undefined
  return { ...pointHit({ ...of, radius }, layer, frames[of.panel], beginOf(of, i)), i }
}

function looseLine(figure: Figure, panel: number, frame: Frame, selection: Selection | null, x: number, y: number): Hit | null {
  for (let at = figure.layers.length - 1; at >= 0; at--) {
    const layer = figure.layers[at]
    if (layer.panel !== panel || layer.primitive !== 'paths' || !layer.cards?.length) continue
    const i = nearestPath(layer, frame, shown(layer, selection), x, y, LOOSE_REACH)
    if (i >= 0) return { layer: at, i, x, y, radius: 2 }
  }
  return null
}

/** The shown point nearest to a place on the canvas, within reach pixels of its edge; -1 for none. Smaller points win a tie: they lie on top. */
export function nearestPoint(layer: Layer, frame: Frame, selection: Selection | null, x: number, y: number, reach: number): number {
  const visible = shown(layer, selection)
  const [px, py] = [layer.x!, layer.y!]
  const scaleX = frame.width / (frame.view.u1 - frame.view.u0)
  const scaleY = frame.height / (frame.view.v1 - frame.view.v0)
  const u = frame.view.u0 + (x - frame.left) / scaleX
  const v = frame.view.v0 + (frame.top + frame.height - y) / scaleY
  const limit = reach + (layer.style.largest_radius ?? layer.style.fixed_radius ?? 0)
  const reachU = limit / scaleX
  let best = -1
  let bestDistance = limit * limit
  const look = (i: number) => {
    const du = px[i] - u
    if (du > reachU || du < -reachU) return
    const dx = du * scaleX
    const dy = (py[i] - v) * scaleY
    const distance = dx * dx + dy * dy
    if (distance > bestDistance || (distance === bestDistance && i < best) || !visible(i)) return
    const edge = reach + radiusOf(layer, i)
    if (distance > edge * edge) return
    if (px[i] < frame.view.u0 || px[i] > frame.view.u1 || py[i] < frame.view.v0 || py[i] > frame.view.v1) return
    best = i
    bestDistance = distance
  }
  const grid = gridOf(layer)
  if (grid) {
    // What is found within a distance is the nearest when all that is as near was looked at.
    for (const near of [3, limit / 2, limit]) {
      grid.within(u - near / scaleX, u + near / scaleX, v - near / scaleY, v + near / scaleY, look)
      if (best >= 0 && bestDistance <= near * near) break
    }
  } else for (let i = 0; i < layer.count; i++) look(i)
  return best
}

/** The path that passes within reach pixels; -1 for none. */
export function nearestPath(layer: Layer, f: Frame, visible: (i: number) => boolean, x: number, y: number, reach: number): number {
  let best = -1
  let bestDistance = reach
  for (let i = 0; i < layer.count; i++) {
    if (!visible(i)) continue
    const [from, to] = vertices(layer, i)
    for (let k = from + 1; k < to; k++) {
      const d = distanceToSegment(x, y, toX(f, layer.x![k - 1]), toY(f, layer.y![k - 1]), toX(f, layer.x![k]), toY(f, layer.y![k]))
      if (d < bestDistance) {
        best = i
        bestDistance = d
      }
    }
  }
  return best
}

type Find = (layer: Layer, at: number, f: Frame, visible: (i: number) => boolean, x: number, y: number) => Hit | null

/** How each primitive that is no point is found. */
const FIND: Partial<Record<Layer['primitive'], Find>> = {
  paths: (layer, at, f, visible, x, y) => {
    const i = nearestPath(layer, f, visible, x, y, LINE_REACH)
    return i < 0 ? null : { layer: at, i, x, y, radius: 2 }
  },
  segments: (layer, at, f, visible, x, y) => {
    for (let i = layer.count - 1; i >= 0; i--)
      if (visible(i) && distanceToSegment(x, y, ...ends(layer, f, i)) < LINE_REACH + 1) return { layer: at, i, x, y, radius: 2 }
    return null
  },
  rects: (layer, at, f, visible, x, y) => {
    for (let i = layer.count - 1; i >= 0; i--) {
      const [x1, y1, x2, y2] = ends(layer, f, i)
      if (visible(i) && x >= Math.min(x1, x2) && x <= Math.max(x1, x2) && y >= Math.min(y1, y2) - 2 && y <= Math.max(y1, y2) + 2)
        return { layer: at, i, x, y, radius: 2 }
    }
    return null
  },
  polygons: (layer, at, f, visible, x, y) => {
    for (let i = layer.count - 1; i >= 0; i--) if (visible(i) && within(layer, f, i, x, y)) return { layer: at, i, x, y, radius: 2 }
    return null
  },
}

function within(layer: Layer, f: Frame, i: number, x: number, y: number): boolean {
  const [from, to] = vertices(layer, i)
  let odd = false
  for (let k = from, before = to - 1; k < to; before = k++) {
    const [ax, ay, bx, by] = [toX(f, layer.x![k]), toY(f, layer.y![k]), toX(f, layer.x![before]), toY(f, layer.y![before])]
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd
  }
  return odd
}

export function distanceToSegment(x: number, y: number, x0: number, y0: number, x1: number, y1: number): number {
  const dx = x1 - x0
  const dy = y1 - y0
  const length = dx * dx + dy * dy
  const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length))
  return Math.hypot(x - x0 - t * dx, y - y0 - t * dy)
}

/** Where a path stands at a place along x, by the stretch that passes it; null where it does not. */
export function pathAt(layer: Layer, i: number, u: number): number | null {
  const [from, to] = vertices(layer, i)
  for (let k = from + 1; k < to; k++) {
    const [a, b] = [layer.x![k - 1], layer.x![k]]
    if ((a <= u && u <= b) || (b <= u && u <= a))
      return a === b ? layer.y![k] : layer.y![k - 1] + ((layer.y![k] - layer.y![k - 1]) * (u - a)) / (b - a)
  }
  return null
}
