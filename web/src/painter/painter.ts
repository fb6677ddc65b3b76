/** Paints a figure onto a canvas it is given. No framework, no document beyond canvases. */
import type { Figure, Fit } from '../api/figure'
import { position, ticks } from '../scale/scale'
import { paintDots } from './dots'
import { seenX, seenY, toX, toY, type Frame } from './geometry'
import { shade, type Theme } from './theme'

export interface PaintOptions {
  theme: Theme
  isolated: number | null
  pixelRatio: number
  /** A small picture: marks alone, without axes and words. */
  bare?: boolean
}

/** A label at the end of a line, with its place, so that it can be pressed. */
export interface LineLabel {
  fit: Fit
  x: number
  y: number
  width: number
}

export function paintFigure(c: CanvasRenderingContext2D, figure: Figure, frame: Frame, width: number, height: number, options: PaintOptions): LineLabel[] {
  const { theme } = options
  c.setTransform(options.pixelRatio, 0, 0, options.pixelRatio, 0, 0)
  c.globalAlpha = 1
  c.fillStyle = theme.paper
  c.fillRect(0, 0, width, height)
  if (!options.bare) paintAxes(c, figure, frame, theme)
  const fits = figure.fits.filter((f) => f.x && f.y && (options.isolated === null || f.group < 0 || f.group === options.isolated))
  clipped(c, frame, () => fits.forEach((fit) => paintBand(c, fit, frame, theme)))
  clipped(c, frame, () => paintDots(c, figure, frame, theme, options.isolated, options.pixelRatio))
  clipped(c, frame, () => fits.forEach((fit) => paintLine(c, fit, frame, theme, options.bare ? 1.5 : 2.5)))
  return options.bare ? [] : paintLineLabels(c, fits, frame, theme, width)
}

function clipped(c: CanvasRenderingContext2D, f: Frame, paint: () => void): void {
  c.save()
  c.beginPath()
  c.rect(f.left, f.top, f.width, f.height)
  c.clip()
  paint()
  c.restore()
}

function paintAxes(c: CanvasRenderingContext2D, figure: Figure, f: Frame, theme: Theme): void {
  const right = f.left + f.width
  const bottom = f.top + f.height
  const scaleX = seenX(figure, f.view)
  const scaleY = seenY(figure, f.view)
  c.lineWidth = 1
  c.strokeStyle = theme.line
  c.fillStyle = theme.muted
  c.font = `400 12.5px ${theme.font}`
  c.textBaseline = 'middle'
  c.textAlign = 'right'
  let widest = 0
  for (const tick of ticks(scaleY, figure.y.tick_count)) {
    const y = Math.round(toY(f, position(figure.y, tick.value))) + 0.5
    line(c, f.left, y, right, y)
    widest = Math.max(widest, c.measureText(tick.label).width)
    c.fillText(tick.label, f.left - 9, y)
  }
  c.textAlign = 'center'
  paintTicksX(c, figure, f, scaleX, bottom)
  c.fillStyle = theme.ink
  c.font = `600 13px ${theme.font}`
  c.textBaseline = 'alphabetic'
  c.fillText(fitted(c, figure.x.title, f.width), f.left + f.width / 2, bottom + 42)
  c.save()
  c.translate(Math.max(18, f.left - 9 - widest - 14), f.top + f.height / 2)
  c.rotate(-Math.PI / 2)
  c.fillText(fitted(c, figure.y.title, f.height), 0, 0)
  c.restore()
  if (figure.title) {
    c.textAlign = 'left'
    c.font = `600 18px "Literata", Georgia, serif`
    c.fillText(fitted(c, figure.title, right - 18), 20, 34)
  }
}

function paintTicksX(c: CanvasRenderingContext2D, figure: Figure, f: Frame, scale: ReturnType<typeof seenX>, bottom: number): void {
  const labels = ticks(scale, figure.x.tick_count)
    .map((tick) => ({ label: tick.label, x: Math.round(toX(f, position(figure.x, tick.value))) + 0.5 }))
    .sort((a, b) => a.x - b.x) // from left to right, whichever way the axis runs
  for (const { x } of labels) line(c, x, f.top, x, bottom)
  const room = labels.length > 1 ? Math.abs(labels[1].x - labels[0].x) - 6 : f.width
  const widest = Math.max(0, ...labels.map((l) => c.measureText(l.label).width))
  if (widest <= room || figure.x.kind !== 'groups') {
    let until = -Infinity
    for (const { label, x } of labels) {
      const half = c.measureText(label).width / 2
      if (x - half < until) continue // never one label over another
      c.fillText(label, x, bottom + 18)
      until = x + half + 6
    }
    return
  }
  // Long names of groups stand at a slant.
  for (const { label, x } of labels) {
    c.save()
    c.translate(x + 4, bottom + 12)
    c.rotate(-Math.PI / 8)
    c.textAlign = 'right'
    c.fillText(fitted(c, label, Math.max(room, 90)), 0, 0)
    c.restore()
  }
}

/** The text, cut short with an ellipsis where it is wider than the room. */
export function fitted(c: CanvasRenderingContext2D, text: string, room: number): string {
  if (c.measureText(text).width <= room) return text
  let end = text.length
  while (end > 1 && c.measureText(text.slice(0, end) + '…').width > room) end--
  return text.slice(0, end).trimEnd() + '…'
}

function line(c: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
  c.beginPath()
  c.moveTo(x0, y0)
  c.lineTo(x1, y1)
  c.stroke()
}

function paintBand(c: CanvasRenderingContext2D, fit: Fit, f: Frame, theme: Theme): void {
  if (!fit.low || !fit.high || !fit.x) return
  c.beginPath()
  for (let i = 0; i < fit.x.length; i++) c.lineTo(toX(f, fit.x[i]), toY(f, fit.high[i]))
  for (let i = fit.x.length - 1; i >= 0; i--) c.lineTo(toX(f, fit.x[i]), toY(f, fit.low[i]))
  c.closePath()
  c.globalAlpha = fit.group < 0 ? 0.1 : 0.2
  c.fillStyle = shade(theme, fit)
  c.fill()
  c.globalAlpha = 1
}

function paintLine(c: CanvasRenderingContext2D, fit: Fit, f: Frame, theme: Theme, width: number): void {
  c.beginPath()
  for (let i = 0; i < fit.x!.length; i++) c.lineTo(toX(f, fit.x![i]), toY(f, fit.y![i]))
  c.strokeStyle = shade(theme, fit)
  c.lineWidth = fit.group < 0 ? Math.min(width, 2) : width
  c.lineJoin = 'round'
  c.setLineDash(fit.dashed ? [7, 5] : [])
  c.stroke()
  c.setLineDash([])
}

/** Names stand at the right end of each group's line, and over the start of the line of all rows. */
function paintLineLabels(c: CanvasRenderingContext2D, fits: Fit[], f: Frame, theme: Theme, width: number): LineLabel[] {
  c.font = `600 13px ${theme.font}`
  c.textBaseline = 'middle'
  c.textAlign = 'left'
  const found: LineLabel[] = []
  for (const fit of fits) {
    const text = fitted(c, fit.name, 150)
    const length = c.measureText(text).width
    const end = fit.group < 0 ? firstInside(fit, f, 1) : firstInside(fit, f, -1)
    if (!end || (fit.group < 0 && fits.length === 1)) continue
    const [x, y] = end
    if (fit.group < 0) {
      const next = firstInside(fit, f, 1, 12)
      const above = !next || next[1] >= y ? -14 : 16 // on the side where the line does not go
      found.push({ fit, x: Math.min(x, width - length - 4), y: y + above, width: length })
    } else found.push({ fit, x: Math.min(x + 7, width - length - 4), y, width: length })
  }
  found.sort((a, b) => a.y - b.y)
  for (let i = 1; i < found.length; i++) {
    for (let j = 0; j < i; j++) {
      const [a, b] = [found[j], found[i]]
      const beside = a.x + a.width < b.x || b.x + b.width < a.x
      if (!beside && Math.abs(b.y - a.y) < 16) b.y = a.y + 16
    }
  }
  for (const label of found) {
    c.lineWidth = 4
    c.lineJoin = 'round'
    c.strokeStyle = theme.paper
    const text = fitted(c, label.fit.name, 150)
    c.strokeText(text, label.x, label.y)
    c.fillStyle = shade(theme, label.fit)
    c.fillText(text, label.x, label.y)
  }
  return found
}

/** The first point of a line, from one of its ends, that is seen; `skip` points further on. */
function firstInside(fit: Fit, f: Frame, direction: 1 | -1, skip = 0): [number, number] | null {
  const points = sampled(fit)
  if (direction < 0) points.reverse()
  const i = points.findIndex(([u, v]) => u >= f.view.u0 - 1e-6 && u <= f.view.u1 + 1e-6 && v >= f.view.v0 && v <= f.view.v1)
  if (i < 0) return null
  const [u, v] = points[Math.min(i + skip, points.length - 1)]
  return [toX(f, u), toY(f, v)]
}

/** A line of two points, in as many as a band has. */
function sampled(fit: Fit): [number, number][] {
  const { x, y } = fit
  if (x!.length > 2) return Array.from(x!, (u, i) => [u, y![i]])
  return Array.from({ length: 97 }, (_, i) => [x![0] + ((x![1] - x![0]) * i) / 96, y![0] + ((y![1] - y![0]) * i) / 96])
}
