/** One place along x in every panel: what each line says there, side by side. */
import { scaleX, scaleY, type Figure, type Layer } from '../figure/figure'
import type { Frame } from '../painter/geometry'
import { formatValue } from '../scale/format'
import { valueAt } from '../scale/scale'
import { ownCard, placeText, type CardText } from './card'
import { pathAt } from './hit'

/** How many panels stand beside each other in a card. */
const MOST = 6

/** The card of all panels at a place along x; null where they are too many, have axes of their own, or no line passes. */
export function compareCard(figure: Figure, panel: number, u: number, shownIn: (layer: Layer) => (i: number) => boolean): CardText | null {
  const n = figure.panels.length
  if (n < 2 || n > MOST || figure.panels.some((p) => p.x !== figure.panels[0].x || p.y !== figure.panels[0].y)) return null
  const y = scaleY(figure, panel)
  const lines = new Map<string, string[]>()
  for (const layer of figure.layers) {
    if (layer.primitive !== 'paths') continue
    const visible = shownIn(layer)
    for (let i = 0; i < layer.count; i++) {
      if (!visible(i)) continue
      const name = ownCard(layer, i)?.heading || y.name
      const values = lines.get(name) ?? lines.set(name, Array<string>(n).fill('')).get(name)!
      const v = pathAt(layer, i, u)
      if (v !== null && v >= -0.001 && v <= 1.001) values[layer.panel] = formatValue(valueAt(y, v), 3)
    }
  }
  const passing = [...lines].filter(([, values]) => values.some(Boolean))
  if (passing.length === 0) return null
  const away = [...lines.keys()].filter((name) => !passing.some(([other]) => other === name))
  const at = placeText(scaleX(figure, panel), u)
  return {
    heading: `At ${at} · ${[y.name, y.unit].filter(Boolean).join(', ')}`,
    facts: [],
    table: {
      columns: figure.panels.map((p) => (p.titles ?? []).join(' · ')),
      here: panel,
      rows: passing.map(([name, values]) => ({ name, values })),
    },
    foot: away.length > 0 ? `no line at ${at}: ${away.join(', ')}` : undefined,
  }
}

/** A cell of the grid of panels in which none stands, in pixels. */
export function freeCell(frames: Frame[]): { left: number; top: number } | null {
  const places = (of: (f: Frame) => number) => [...new Set(frames.map((f) => Math.round(of(f))))].sort((a, b) => a - b)
  const tops = places((f) => f.top)
  for (const left of places((f) => f.left)) {
    const top = tops.at(-1)!
    if (!frames.some((f) => Math.round(f.left) === left && Math.round(f.top) === top)) return { left, top }
  }
  return null
}
