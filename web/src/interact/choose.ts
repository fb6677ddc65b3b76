/** Choosing rows by an outline that is drawn around them. */
import { rowFinder, type Figure, type Selection } from '../figure/figure'
import { toX, toY, type Frame } from '../painter/geometry'
import { shown } from '../painter/selection'
import type { Theme } from '../painter/theme'

export type Outline = [x: number, y: number][]

/** Whether a place lies inside an outline, which is closed from its end to its beginning: by how often a ray to the right crosses it. */
export function within(outline: Outline, x: number, y: number): boolean {
  let inside = false
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = outline[i]
    const [bx, by] = outline[j]
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside
  }
  return inside
}

/** The rows whose marks lie inside an outline, as they stand in the table. */
export function rowsInside(figure: Figure, frames: Frame[], selection: Selection | null, outline: Outline): number[] {
  const rows = new Set<number>()
  for (const layer of figure.layers) {
    if (layer.primitive !== 'points' || !layer.rows) continue
    const f = frames[layer.panel]
    const visible = shown(layer, selection)
    const rowOf = rowFinder(layer)
    for (let i = 0; i < layer.count; i++) {
      const x = toX(f, layer.x![i])
      const y = toY(f, layer.y![i])
      if (x >= f.left && x <= f.left + f.width && y >= f.top && y <= f.top + f.height && visible(i) && within(outline, x, y))
        rows.add(rowOf(i))
    }
  }
  return [...rows].sort((a, b) => a - b)
}

export function paintOutline(c: CanvasRenderingContext2D, outline: Outline, theme: Theme): void {
  c.beginPath()
  outline.forEach(([x, y], i) => (i === 0 ? c.moveTo(x, y) : c.lineTo(x, y)))
  c.closePath()
  c.fillStyle = theme.copper
  c.globalAlpha = 0.1
  c.fill()
  c.globalAlpha = 1
  c.strokeStyle = theme.copper
  c.lineWidth = 1.4
  c.setLineDash([5, 4])
  c.stroke()
  c.setLineDash([])
}
