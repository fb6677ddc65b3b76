/** What of a chart is governed by a word of its sentence: pressing it opens that word. */
import type { Figure } from '../figure/figure'
import { paperOf, type Frame } from '../painter/geometry'
import { fontOf, placeOf } from '../painter/primitives/texts'
import type { Theme } from '../painter/theme'
import { axisAt } from './axes'

/** How far beside a text, in pixels, it is pressed. */
const BESIDE = 4
/** How far from the middle of a text's height it is pressed. */
const ABOUT = 10

export interface Pressable {
  c: CanvasRenderingContext2D
  figure: Figure
  frames: Frame[]
  theme: Theme
  width: number
  height: number
}

/** The word that governs the title, the label or the axis at a place; null: there is none. */
export function wordAt(chart: Pressable, x: number, y: number): string | null {
  if (titleAt(chart, x, y)) return 'title'
  const label = labelled(chart, x, y)
  if (label) return label
  const axis = axisAt(chart.figure, chart.frames, x, y)
  return axis && `limits-${axis}`
}

function titleAt({ c, figure, theme, width, height }: Pressable, x: number, y: number): boolean {
  const paper = paperOf(figure, width, height)
  return figure.texts.some((t) => {
    if (t.role !== 'title' && t.role !== 'subtitle') return false
    c.font = `${t.bold ? 600 : 400} ${t.size}px ${t.serif ? theme.serif : theme.font}`
    const wide = c.measureText(t.text).width
    const from = paper.x(t.x) - (t.anchor === 'middle' ? wide / 2 : 0)
    const bottom = paper.y(t.y)
    return x >= from - BESIDE && x <= from + wide + BESIDE && y >= bottom - t.size && y <= bottom + BESIDE
  })
}

/** The word of a label of rows, or of the name of a line. */
function labelled({ c, figure, frames, theme }: Pressable, x: number, y: number): string | null {
  for (const layer of figure.layers) {
    if (layer.primitive !== 'texts' || !layer.says) continue
    c.font = fontOf(layer.style, theme.font)
    for (let i = 0; i < layer.count; i++) {
      const at = placeOf(figure, layer, frames[layer.panel], i)
      if (!at) continue
      const wide = c.measureText(at.text).width
      const from = at.x - (layer.style.anchor === 'middle' ? wide / 2 : layer.style.anchor === 'end' ? wide : 0)
      if (x >= from - BESIDE && x <= from + wide + BESIDE && Math.abs(y - at.y) < ABOUT) return layer.says
    }
  }
  return null
}
