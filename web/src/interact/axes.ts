/** What of a chart's axes and keys is pressed and dragged. */
import { scaleX, scaleY, type AxisScale, type Figure, type Selection } from '../figure/figure'
import { fromX, fromY, inside, type Frame, type View } from '../painter/geometry'
import { fontOf, placeOf } from '../painter/primitives/texts'
import type { Theme } from '../painter/theme'
import { formatNumber } from '../scale/format'
import { valueAt } from '../scale/scale'

export type Limits = [from: number, to: number]

/** The end of an axis that is dragged, and where it is now: 0 and 1 are where its ends stand. */
export interface AxisEnd {
  axis: 'x' | 'y'
  frame: Frame
  high: boolean
  at: number
}

/** How far from the end of an axis, in pixels, it can be taken hold of. */
const REACH = 30
/** How far it has to be dragged to be more than a press. */
const PRESS = 0.015

const scaleOf = (figure: Figure, axis: 'x' | 'y', panel: number) => (axis === 'x' ? scaleX : scaleY)(figure, panel)

/** The label of a key's entry at a place, as a selection. */
export function labelAt(
  c: CanvasRenderingContext2D,
  figure: Figure,
  frames: Frame[],
  theme: Theme,
  x: number,
  y: number,
): Selection | null {
  for (const layer of figure.layers) {
    if (layer.primitive !== 'texts' || !layer.keys?.colour || !layer.colour) continue
    for (let i = 0; i < layer.count; i++) {
      const at = placeOf(figure, layer, frames[layer.panel], i)
      if (!at) continue
      c.font = fontOf(layer.style, theme.font)
      const width = c.measureText(at.text).width
      if (x >= at.x - 4 && x <= at.x + width + 4 && Math.abs(y - at.y) < 10) return { key: layer.keys.colour, entries: [layer.colour[i]] }
    }
  }
  return null
}

/** The groups along the axes of a panel at a place in it. */
export function groupsOf(figure: Figure, panel: number, f: Frame, { x, y }: { x: number; y: number }): ['x' | 'y', string][] {
  const places = [
    ['x', scaleX(figure, panel), fromX(f, x)],
    ['y', scaleY(figure, panel), fromY(f, y)],
  ] as const
  return places.flatMap(([axis, scale, at]): ['x' | 'y', string][] => {
    const level = scale.kind === 'groups' ? scale.levels?.[Math.round(valueAt(scale, at))] : undefined
    return level === undefined ? [] : [[axis, level]]
  })
}

/** The axis whose labels or title stand at a place. */
export function axisAt(figure: Figure, frames: Frame[], x: number, y: number): 'x' | 'y' | null {
  for (const f of frames.filter((_, i) => !figure.panels[i]?.edge)) {
    if (y > f.top + f.height + 4 && y < f.top + f.height + 64 && x > f.left && x < f.left + f.width) return 'x'
    if (x < f.left - 4 && x > f.left - 140 && y > f.top && y < f.top + f.height && !frames.some((g) => inside(g, x, y))) return 'y'
  }
  return null
}

/** The end of an axis of numbers or dates that can be dragged from a place: the strip of labels near its end. */
export function endAt(figure: Figure, frames: Frame[], x: number, y: number): AxisEnd | null {
  for (const [panel, f] of frames.entries()) {
    if (figure.panels[panel].edge) continue
    const below = y > f.top + f.height + 2 && y < f.top + f.height + REACH
    const beside = x < f.left - 2 && x > f.left - REACH
    for (const high of [false, true]) {
      const near = {
        x: Math.abs(x - f.left - (high ? f.width : 0)) < REACH / 2,
        y: Math.abs(y - f.top - (high ? 0 : f.height)) < REACH / 2,
      }
      for (const axis of ['x', 'y'] as const)
        if ((axis === 'x' ? below : beside) && near[axis] && scaleOf(figure, axis, panel).kind !== 'groups')
          return { axis, frame: f, high, at: high ? 1 : 0 }
    }
  }
  return null
}

/** Takes the end of an axis to a place, and shows where it would stand. */
export function dragEnd(c: CanvasRenderingContext2D, end: AxisEnd, x: number, y: number, theme: Theme): void {
  const { frame: f } = end
  const share = end.axis === 'x' ? (x - f.left) / f.width : (f.top + f.height - y) / f.height
  end.at = end.high ? Math.max(0.05, Math.min(3, share)) : Math.min(0.95, Math.max(-2, share))
  c.fillStyle = theme.ink
  c.globalAlpha = 0.08
  const [from, to] = end.high ? [Math.min(end.at, 1), Math.max(end.at, 1)] : [Math.min(end.at, 0), Math.max(end.at, 0)]
  if (end.axis === 'x') c.fillRect(f.left + from * f.width, f.top, (to - from) * f.width, f.height)
  else c.fillRect(f.left, f.top + f.height - to * f.height, f.width, (to - from) * f.height)
  c.globalAlpha = 1
}

/** The limits that a dragged end makes; null where it is hardly dragged, which is a press. */
export function limitsOf(figure: Figure, frames: Frame[], { axis, frame, high, at }: AxisEnd): Limits | null {
  if (Math.abs(at - (high ? 1 : 0)) < PRESS) return null
  const scale = scaleOf(figure, axis, Math.max(frames.indexOf(frame), 0))
  const [from, to] = high ? [0, at] : [at, 1]
  return [rounded(valueAt(scale, from), scale), rounded(valueAt(scale, to), scale)]
}

/** The limits that make a view the chart's own, of axes of numbers and dates. */
export function limitsOfView(figure: Figure, { u0, u1, v0, v1 }: View): { x?: Limits; y?: Limits } {
  const ends = (scale: AxisScale, low: number, high: number): Limits | undefined =>
    scale.kind === 'groups' ? undefined : [rounded(valueAt(scale, low), scale), rounded(valueAt(scale, high), scale)]
  return { x: ends(scaleX(figure), u0, u1), y: ends(scaleY(figure), v0, v1) }
}

/** Which part of a figure is seen, in words. */
export function seenWords(figure: Figure, view: View): string {
  const { x, y } = limitsOfView(figure, view)
  const words = (scale: AxisScale, limits?: Limits) =>
    limits && `${scale.name || scale.title} from ${limitText(scale, limits[0])} to ${limitText(scale, limits[1])}`
  return ['Seen', [words(scaleX(figure), x), words(scaleY(figure), y)].filter(Boolean).join(', ')].join(': ')
}

const limitText = (scale: AxisScale, v: number) =>
  scale.kind === 'date' ? new Date(v * 1000).toISOString().slice(0, 10) : formatNumber(v, decimalsOf(v))
const decimalsOf = (v: number) => (v === 0 ? 0 : Math.max(0, Math.min(6, 2 - Math.floor(Math.log10(Math.abs(v))))))

/** A limit with three digits of the axis's length, or the start of a day. */
function rounded(v: number, scale: AxisScale): number {
  if (scale.kind === 'date') return Math.round(v / 86400) * 86400
  if (scale.kind === 'log') return Number(v.toPrecision(3))
  const unit = 10 ** (Math.floor(Math.log10(Math.abs(scale.to - scale.from))) - 2)
  return Number((Math.round(v / unit) * unit).toPrecision(12))
}
