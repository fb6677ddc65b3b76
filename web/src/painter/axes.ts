/** Paints the grid, the labels of ticks and the words around the panels. */
import { scaleX, scaleY, type AxisScale, type Figure } from '../figure/figure'
import { position, ticks, type Tick } from '../scale/scale'
import { isWhole, paperOf, seenX, seenY, toX, toY, type Frame } from './geometry'
import { shade, type Theme } from './theme'

const TICK_SIZE = 12
/** From one line of a label to the next, of their size. */
const TICK_LINE = 15 / TICK_SIZE
const TICK_GAP = 8

/** How many times as large as usual the words of a figure are. */
export const textScale = (figure: Figure): number => figure.manner?.text ?? 1

/** How a kind of words of a figure is written: what is usual where nothing else is said of it. */
export function lettersOf(figure: Figure, of: string, usual: number, usuallyBold = false): { size: number; bold: boolean } {
  const said = figure.manner?.letters?.find((l) => l.of === of)
  return said ? { size: said.size, bold: said.bold ?? false } : { size: usual * textScale(figure), bold: usuallyBold }
}

/** The same as a style of an element. */
export const styleOf = ({ size, bold }: { size: number; bold: boolean }) => ({ fontSize: `${size}px`, fontWeight: bold ? '600' : '400' })

const tickLetters = (figure: Figure) => lettersOf(figure, 'ticks', TICK_SIZE, figure.manner?.bold)

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
  const yTicks = seen(y, zoomed, () => seenY(figure, panel, f.view)).filter((_, i) => !y.skip || zoomed || i % y.skip === 0)
  const xTicks = seen(x, zoomed, () => seenX(figure, panel, f.view))
  const up = yTicks.map((tick) => toY(f, position(y, tick.value)))
  const along = xTicks.map((tick) => toX(f, position(x, tick.value)))
  if (y.kind !== 'groups' || both)
    for (const at of gridLines(up, figure.manner?.grid)) line(f.left, Math.round(at) + 0.5, f.left + f.width, Math.round(at) + 0.5)
  if (x.kind !== 'groups' || both)
    for (const at of gridLines(along, figure.manner?.grid)) line(Math.round(at) + 0.5, f.top, Math.round(at) + 0.5, f.top + f.height)
  if (!figure.manner?.lines) return
  const stroke = figure.manner.stroke
  c.strokeStyle = stroke?.light ? shade(theme, stroke) : theme.muted
  c.lineWidth = stroke?.width ?? 1
  c.setLineDash(stroke?.dash ?? [])
  const [left, bottom] = [Math.round(f.left) - 0.5, Math.round(f.top + f.height) + 0.5]
  if (figure.manner.sketch) {
    byHand(c, left, bottom + AXIS_TICK, 0, -(f.height + AXIS_TICK))
    byHand(c, left - AXIS_TICK, bottom, f.width + AXIS_TICK, 0)
  } else {
    line(left, f.top, left, bottom)
    line(left, bottom, f.left + f.width, bottom)
  }
  for (const at of up) line(left - AXIS_TICK, Math.round(at) + 0.5, left, Math.round(at) + 0.5)
  for (const at of along) line(Math.round(at) + 0.5, bottom, Math.round(at) + 0.5, bottom + AXIS_TICK)
  c.setLineDash([])
}

/** How far apart a line turns that looks drawn by hand, and how far it strays, in pixels. */
const TURNS_EVERY = 9
const STRAYS = 1.3

/** A line along an axis that strays as if it were drawn by hand, in the way of the drawings of the server. */
function byHand(c: CanvasRenderingContext2D, x: number, y: number, dx: number, dy: number): void {
  const turns = Math.floor(Math.hypot(dx, dy) / TURNS_EVERY)
  c.beginPath()
  for (let k = 0; k <= turns; k++) {
    const share = k / Math.max(turns, 1)
    const stray = STRAYS * (0.62 * Math.sin(0.71 * k + dx) + 0.38 * Math.sin(1.93 * k + 2.1 * dx))
    c.lineTo(x + dx * share + (dx === 0 ? stray : 0), y + dy * share + (dx === 0 ? 0 : stray))
  }
  c.stroke()
}

/** How long the ticks of axes with lines are. */
const AXIS_TICK = 5

/** Where lines stand: at the ticks and, where that is said, halfway between them. */
function gridLines(ticks: number[], grid: 'off' | 'halves' | undefined): number[] {
  if (grid === 'off') return []
  return grid === 'halves' ? ticks.flatMap((at, i) => (i > 0 ? [(ticks[i - 1] + at) / 2, at] : [at])) : ticks
}

/** Writes the labels of a panel's ticks; gives how wide those along y are. */
export function paintTicks(c: CanvasRenderingContext2D, figure: Figure, panel: number, f: Frame, theme: Theme): number {
  const zoomed = !isWhole(f.view)
  const { labels } = figure.panels[panel]
  c.fillStyle = theme.muted
  const k = textScale(figure)
  const { size, bold } = tickLetters(figure)
  c.font = `${bold ? 600 : 400} ${size}px ${theme.font}`
  c.textBaseline = 'middle'
  let widest = 0
  if (labels.y) {
    const y = scaleY(figure, panel)
    c.textAlign = 'right'
    for (const [i, tick] of seen(y, zoomed, () => seenY(figure, panel, f.view)).entries()) {
      if (y.skip && !zoomed && i % y.skip > 0) continue
      lines(c, tick.label, f.left - TICK_GAP * k, toY(f, position(y, tick.value)), TICK_LINE * size)
      widest = Math.max(widest, c.measureText(tick.label).width)
    }
  }
  if (labels.x) paintTicksX(c, figure, panel, f, zoomed)
  c.textAlign = 'left'
  c.textBaseline = 'alphabetic'
  return zoomed ? widest : 0
}

/** Writes lines about a middle. */
function lines(c: CanvasRenderingContext2D, label: string, x: number, middle: number, height: number): void {
  const list = label.split('\n')
  list.forEach((text, i) => c.fillText(text, x, middle + (i - (list.length - 1) / 2) * height))
}

function paintTicksX(c: CanvasRenderingContext2D, figure: Figure, panel: number, f: Frame, zoomed: boolean): void {
  const x = scaleX(figure, panel)
  const k = textScale(figure)
  const { size } = tickLetters(figure)
  const [gap, height] = [TICK_GAP * k, TICK_LINE * size]
  const bottom = f.top + f.height
  const found = seen(x, zoomed, () => seenX(figure, panel, f.view))
    .map((tick) => ({ label: tick.label, x: toX(f, position(x, tick.value)) }))
    .sort((a, b) => a.x - b.x) // from left to right, whichever way the axis runs
  if (x.tilt) {
    found.forEach(({ label, x: at }, i) => {
      if (x.skip && i % x.skip > 0) return
      c.save()
      c.translate(at + 3, bottom + gap + 2)
      c.rotate((-x.tilt! * Math.PI) / 180)
      c.textAlign = 'right'
      c.fillText(label, 0, size * 0.3)
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
    parts.forEach((part, i) => c.fillText(part, at, bottom + gap + height / 2 + i * height))
    until = at + half + 4
  }
}

/** The words around the panels: titles of chart, axes and panels; of an axis whose labels need the room the title is left out. */
export function paintWords(
  c: CanvasRenderingContext2D,
  figure: Figure,
  width: number,
  height: number,
  theme: Theme,
  without: 'x' | 'y' | null,
): void {
  const paper = paperOf(figure, width, height)
  for (const t of figure.texts) {
    if (t.axis && t.axis === without) continue
    c.fillStyle = t.role === 'value' || t.role === 'subtitle' ? theme.muted : theme.ink
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
