/** What every primitive is painted with. */
import type { Crowd } from '../crowd'
import type { Figure, Layer, Selection, Style } from '../../figure/figure'
import { shade, type Theme } from '../theme'

export interface Brush {
  c: CanvasRenderingContext2D
  figure: Figure
  theme: Theme
  selection: Selection | null
  /** Where words stand already, on a paper smaller than the layout's. */
  crowd?: Crowd
  pixelRatio: number
  /** Those of a chart whose view moves. */
  pictures?: import('../dots/pictures').Pictures
}

/** Sets the line of a style; false where there is none. */
export function stroke(c: CanvasRenderingContext2D, style: Style, colour: string): boolean {
  if (!((style.width ?? 0) > 0)) return false
  c.strokeStyle = colour
  c.lineWidth = style.width!
  c.lineJoin = 'round'
  c.lineCap = 'butt'
  c.setLineDash(style.dash ?? [])
  return true
}

/** Sets the outline of a style; false where there is none. */
export function rim(c: CanvasRenderingContext2D, style: Style, theme: Theme): boolean {
  if (!style.rim) return false
  c.strokeStyle = shade(theme, style.rim)
  c.lineWidth = style.rim.width
  c.lineJoin = 'round'
  c.setLineDash([])
  return true
}

/** Restores what styles change. */
export function plain(c: CanvasRenderingContext2D): void {
  c.setLineDash([])
  c.globalAlpha = 1
}

export type Paint = (brush: Brush, layer: Layer, frame: import('../geometry').Frame) => void
