/** Paints the grid, the labels of ticks and the words around the panels. */
import { scaleX, scaleY, type AxisScale, type Figure } from '../api/figure'
import { position, ticks, type Tick } from '../scale/scale'
import { isWhole, paperOf, seenX, seenY, toX, toY, type Frame } from './geometry'
import type { Theme } from './theme'

export const TICK_SIZE = 12
const TICK_LINE = 15
const TICK_GAP = 8

/** The ticks of a scale that are seen: those of the layout, or new ones while zoomed. */
function seen(scale: AxisScale, zoomed: boolean, part: () => ReturnType<typeof seenX>): Tick[] {
  if (!zoomed) return scale.ticks ?? []
  const found = ticks(part(), scale.tick_count)
  return scale.labels ? found.map((t) => ({ value: t.value, label: scale.labels![t.value] ?? t.label })) : found
}

export function paintGrid(c: CanvasRenderingContext2D, figure: Figure, panel: number, f: Frame, theme: Theme): void {
  const [x, y] = [scaleX(figure, panel), scaleY(figure, panel)]
  const both = x.kind === 'groups' && y.kind === 'groups'
  const zoomed = !isWhole(f.view)
  c.lineWidth = 1
  c.strokeStyle = theme.line
  const line = (x0: number, y0: number, x1: number, y1: number) => {
    c.beginPath()
    c.moveTo(x0, y0)
    c.lineTo(x1, y1)
    c.stroke()
  }
  if (y.kind !== 'groups' || both)
    for (const [i, tick] of seen(y, zoomed, () => seenY(figure, panel, f.view)).entries()) {
      if (y.skip && !zoomed && i % y.skip > 0) continue
      const at = Math.round(toY(f, position(y, tick.value))) + 0.5
      line(f.left, at, f.left + f.width, at)
    }
  if (x.kind !== 'groups' || both)
    for (const tick of seen(x, zoomed, () => seenX(figure, panel, f.view))) {
      const at = Math.round(toX(f, position(x, tick.value))) + 0.5
      line(at, f.top, at, f.top + f.height)
    }
}

/** Writes the labels of a panel's ticks; gives how wide those along y are. */
export function paintTicks(c: CanvasRenderingContext2D, figure: Figure, panel: number, f: Frame, theme: Theme): number {
  const zoomed = !isWhole(f.view)
  const { labels } = figure.panels[panel]
  c.fillStyle = theme.muted
  c.font = `400 ${TICK_SIZE}px ${theme.font}`
  c.textBaseline = 'middle'
  let widest = 0
  if (labels.y) {
    const y = scaleY(figure, panel)
    c.textAlign = 'right'
    for (const [i, tick] of seen(y, zoomed, () => seenY(figure, panel, f.view)).entries()) {
      if (y.skip && !zoomed && i % y.skip > 0) continue
      lines(c, tick.label, f.left - TICK_GAP, toY(f, position(y, tick.value)))
      widest = Math.max(widest, c.measureText(tick.label).width)
    }
  }
  if (labels.x) paintTicksX(c, figure, panel, f, zoomed)
  c.textAlign = 'left'
  c.textBaseline = 'alphabetic'
  return zoomed ? widest : 0
}

/** Writes lines about a middle. */
function lines(c: CanvasRenderingContext2D, label: string, x: number, middle: number): void {
  const list = label.split('\n')
  list.forEach((text, i) => c.fillText(text, x, middle + (i - (list.length - 1) / 2) * TICK_LINE))
}

function paintTicksX(c: CanvasRenderingContext2D, figure: Figure, panel: number, f: Frame, zoomed: boolean): void {
  const x = scaleX(figure, panel)
  const bottom = f.top + f.height
  const found = seen(x, zoomed, () => seenX(figure, panel, f.view))
    .map((tick) => ({ label: tick.label, x: toX(f, position(x, tick.value)) }))
    .sort((a, b) => a.x - b.x) // from left to right, whichever way the axis runs
  if (x.tilt) {
    found.forEach(({ label, x: at }, i) => {
      if (x.skip && i % x.skip > 0) return
      c.save()
      c.translate(at + 3, bottom + TICK_GAP + 2)
      c.rotate((-x.tilt! * Math.PI) / 180)
      c.textAlign = 'right'
      c.fillText(label, 0, TICK_SIZE * 0.3)
      c.restore()
    })
    return
  }
  c.textAlign = 'center'
  let until = -Infinity
  for (const { label, x: at } of found) {
    const parts = label.split('\n')
    const half = Math.max(...parts.map((p) => c.measureText(p).width)) / 2
    if (at - half < until) continue // never one label over another
    parts.forEach((part, i) => c.fillText(part, at, bottom + TICK_GAP + TICK_LINE / 2 + i * TICK_LINE))
    until = at + half + 4
  }
}

/** The words around the panels: titles of chart, axes and panels; of an axis whose labels need the room the title is left out. */
export function paintWords(c: CanvasRenderingContext2D, figure: Figure, width: number, height: number, theme: Theme, without: 'x' | 'y' | null): void {
  const paper = paperOf(figure, width, height)
  for (const t of figure.texts) {
    if (t.axis && t.axis === without) continue
    c.fillStyle = t.role === 'value' ? theme.muted : theme.ink
    c.font = `${t.bold ? 600 : 400} ${t.size}px ${t.serif ? theme.serif : theme.font}`
    c.textAlign = t.anchor === 'middle' ? 'center' : t.anchor === 'end' ? 'right' : 'left'
    c.save()
    c.translate(paper.x(t.x), paper.y(t.y))
    if (t.turn) c.rotate((t.turn * Math.PI) / 180)
    c.fillText(t.text, 0, 0)
    c.restore()
  }
  c.textAlign = 'left'
}
