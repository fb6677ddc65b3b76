/** Notes on a chart: what a hand points at that can be noted on, and where what was noted on stands now. */
import { rowFinder, scaleX, scaleY, type AxisScale, type Figure, type Layer, type Selection } from '../figure/figure'
import { fromX, fromY, inside, toX, toY, type Frame } from '../painter/geometry'
import { shown } from '../painter/selection'
import { position, valueAt } from '../scale/scale'
import { pointHit, type Hit } from './hit'

/** What of a chart is seen now. */
export interface Standing {
  figure: Figure
  frames: Frame[]
  size: { width: number; height: number }
  hit: Hit | null
  selection: Selection | null
}

/** Where something that is noted on stands on the canvas. */
export interface Anchor {
  x: number
  y: number
  radius: number
}

/** A value along an axis: of a column, a number or a group. */
export interface ValueAt {
  column: string
  number?: number
  group?: string
}

/** What of a chart a note is on, where that stands on it: rows, from 1 on; a mark, or a place. */
export interface Spot {
  kind: string
  version_id?: number
  rows?: number[] | null
  x?: ValueAt
  y?: ValueAt
  panel?: string
  mark?: string
}

/** What a hand points at. */
export type PointedSpot = Spot & { kind: 'rows' | 'mark' | 'place' }

/** How many digits a place along an axis keeps: as many as a pixel tells apart. */
const DIGITS = 5

function along(scale: AxisScale, u: number): ValueAt {
  const v = valueAt(scale, u)
  if (scale.kind !== 'groups')
    return { column: scale.column, number: scale.kind === 'date' ? Math.round(v) : Number(v.toPrecision(DIGITS)) }
  const level = scale.levels?.[Math.max(0, Math.min((scale.levels?.length ?? 1) - 1, Math.round(v)))] ?? ''
  return { column: scale.column, group: scale.exact?.[level] ?? level }
}

/** Where a value stands along an axis; null where the axis is of another column, or has no such value. */
function back(scale: AxisScale, at: ValueAt | undefined): number | null {
  if (!at || at.column !== scale.column) return null
  if (scale.kind !== 'groups') {
    const u = at.number === undefined ? NaN : position(scale, at.number)
    return Number.isFinite(u) ? u : null
  }
  const level = scale.levels?.findIndex((name) => (scale.exact?.[name] ?? name) === at.group) ?? -1
  return level < 0 ? null : position(scale, level)
}

const panelName = (figure: Figure, panel: number) => figure.panels[panel].titles?.join(', ') ?? ''

/** What is pointed at, or stands at a place of the canvas: the row of a dot, a mark with its place, or the place; null outside the panels. */
export function spotAt({ figure, frames, hit }: Standing, version: number, x: number, y: number): PointedSpot | null {
  const layer = hit ? figure.layers[hit.layer] : undefined
  if (hit && layer?.rows && layer.primitive === 'points') return { kind: 'rows', version_id: version, rows: [rowFinder(layer)(hit.i) + 1] }
  const panel =
    layer && !figure.panels[layer.panel].edge ? layer.panel : frames.findIndex((f, i) => !figure.panels[i].edge && inside(f, x, y))
  if (panel < 0) return null
  const f = frames[panel]
  const [px, py] = hit ? [hit.x, hit.y] : [x, y]
  const place = {
    x: along(scaleX(figure, panel), fromX(f, px)),
    y: along(scaleY(figure, panel), fromY(f, py)),
    panel: panelName(figure, panel) || undefined,
  }
  const name = hit && layer?.cards?.[hit.i]?.heading
  return name ? { kind: 'mark', mark: name, ...place } : { kind: 'place', ...place }
}

/** Where the dots of rows are in a figure, found once. */
const known = new WeakMap<Figure, Map<string, [layer: number, i: number][]>>()

function dotsOf(figure: Figure, rows: number[]): [layer: number, i: number][] {
  const of = known.get(figure) ?? new Map<string, [number, number][]>()
  known.set(figure, of)
  const name = rows.join()
  const found = of.get(name)
  if (found) return found
  const wanted = new Set(rows)
  const dots = figure.layers.flatMap((layer, at): [number, number][] => {
    if (!layer.rows || layer.primitive !== 'points' || figure.panels[layer.panel].edge) return []
    const rowOf = rowFinder(layer)
    const out: [number, number][] = []
    for (let i = 0; i < layer.count; i++) if (wanted.has(rowOf(i) + 1)) out.push([at, i])
    return out
  })
  of.set(name, dots)
  return dots
}

/** Where a note stands: the dots of its rows (from 1 on, as they stand in the version that is drawn), or its place; none where the chart does not show it now. */
export function anchorsOf({ figure, frames, selection }: Standing, spot: Spot, rows: number[]): Anchor[] {
  const seen = (f: Frame, { x, y }: Anchor) => x >= f.left - 1 && x <= f.left + f.width + 1 && y >= f.top - 1 && y <= f.top + f.height + 1
  if (spot.kind === 'rows')
    return dotsOf(figure, rows).flatMap(([at, i]) => {
      const layer = figure.layers[at]
      const f = frames[layer.panel]
      const { x, y, radius } = pointHit(layer, at, f, i)
      return shown(layer, selection)(i) && seen(f, { x, y, radius }) ? [{ x, y, radius }] : []
    })
  if (spot.kind !== 'mark' && spot.kind !== 'place') return []
  const panel = figure.panels.findIndex((p, i) => !p.edge && (!spot.panel || panelName(figure, i) === spot.panel))
  if (panel < 0) return []
  const [u, v] = [back(scaleX(figure, panel), spot.x), back(scaleY(figure, panel), spot.y)]
  if (u === null || v === null) return []
  const anchor = { x: toX(frames[panel], u), y: toY(frames[panel], v), radius: 4 }
  return seen(frames[panel], anchor) ? [anchor] : []
}

/** The name of the group that all dots of rows are of, in the key of colours; empty where they are of several. */
export function groupOf(figure: Figure, rows: number[]): string {
  const names = new Set(dotsOf(figure, rows).map(([at, i]) => entryOf(figure, figure.layers[at], i)))
  return names.size === 1 ? [...names][0] : ''
}

function entryOf(figure: Figure, layer: Layer, i: number): string {
  const key = layer.keys?.colour
  return key && layer.colour ? (figure.keys[key - 1].entries?.[layer.colour[i]]?.name ?? '') : ''
}

/** How many marks of a figure lie in a box of the canvas; of many, of every few. */
const LOOKED_AT = 4000

export function crowdIn({ figure, frames }: Standing, left: number, top: number, width: number, height: number): number {
  let crowd = 0
  for (const layer of figure.layers) {
    if (!layer.x || !layer.y || layer.primitive === 'areas') continue
    const f = frames[layer.panel]
    const every = Math.ceil(layer.x.length / LOOKED_AT)
    for (let i = 0; i < layer.x.length; i += every) {
      const [x, y] = [toX(f, layer.x[i]), toY(f, layer.y[i])]
      if (x >= left && x <= left + width && y >= top && y <= top + height) crowd += every
    }
  }
  return crowd
}

const BADGE = 34
const ROOM = 26

/** Where the badges of notes stand: beside what they are on, where the fewest marks are and no other badge is, inside the paper. */
export function badgesOf(standing: Standing, notes: Anchor[][]): { x: number; y: number }[] {
  const { width, height } = standing.size
  const placed: { x: number; y: number }[] = []
  for (const anchors of notes) {
    const n = Math.max(1, anchors.length)
    const [cx, cy] = [anchors.reduce((s, a) => s + a.x, 0) / n, anchors.reduce((s, a) => s + a.y, 0) / n]
    let best = { x: cx, y: cy }
    let cost = Infinity
    for (const reach of [BADGE, 1.8 * BADGE, 3 * BADGE])
      for (let turn = 0; turn < 8; turn++) {
        const angle = -Math.PI / 3 + (turn * Math.PI) / 4
        const x = Math.max(14, Math.min(width - 14, cx + reach * Math.cos(angle)))
        const y = Math.max(14, Math.min(height - 14, cy + reach * Math.sin(angle)))
        const near = [...placed, ...anchors].filter((p) => Math.hypot(p.x - x, p.y - y) < ROOM).length
        const here = 40 * near + crowdIn(standing, x - 12, y - 12, 24, 24) + reach / 20
        if (here < cost) [best, cost] = [{ x, y }, here]
      }
    placed.push(best)
  }
  return placed
}

/** What it costs to hide what a card is about. */
const ITS_OWN = 1e6

/** The corner of the paper in which a card of a size hides the fewest marks, and nothing of what it is about: its left and top. */
export function freeCorner(standing: Standing, width: number, height: number, about: Anchor[]): { left: number; top: number } {
  const { size } = standing
  const margin = 8
  let best = { left: margin, top: margin }
  let least = Infinity
  for (const left of [size.width - width - margin, margin])
    for (const top of [margin, size.height - height - margin]) {
      const hides = about.filter((a) => a.x > left - 10 && a.x < left + width + 10 && a.y > top - 10 && a.y < top + height + 10).length
      const crowd = crowdIn(standing, left, top, width, height) + (hides * ITS_OWN) / Math.max(1, about.length)
      if (crowd < least) [best, least] = [{ left: Math.max(0, left), top: Math.max(0, top) }, crowd]
    }
  return best
}
