/** Paints texts at places of a panel, and says where they stand so that they can be pressed. */
import type { Figure, Layer } from '../../figure/figure'
import { isWhole, toX, toY, vertices, type Frame } from '../geometry'
import { shown } from '../selection'
import { shade } from '../theme'
import type { Brush, Paint } from './brush'

export interface TextPlace {
  text: string
  x: number
  y: number
}

/** Where a text stands: its anchor on the canvas, in the middle of its height; null where its place is not seen. */
export function placeOf(figure: Figure, layer: Layer, f: Frame, i: number): TextPlace | null {
  const text = layer.words![i]
  const [dx, dy] = [layer.dx?.[i] ?? 0, layer.dy?.[i] ?? 0]
  const path = layer.along ? figure.layers[layer.along - 1] : null
  if (path && !(isWhole(f.view) && layer.x)) return endOf(path, layer, f, i, text, dx, dy)
  const [u, v] = [layer.x![i], layer.y![i]]
  const { u0, u1, v0, v1 } = f.view
  if (u < u0 - 1e-6 || u > u1 + 1e-6 || v < v0 - 1e-6 || v > v1 + 1e-6) return null
  return { text, x: toX(f, u) + dx, y: toY(f, v) + dy }
}

/** The name of a path while zoomed: at the last of its points that is seen. */
function endOf(path: Layer, layer: Layer, f: Frame, i: number, text: string, dx: number, dy: number): TextPlace | null {
  const { u0, u1, v0, v1 } = f.view
  const [from, to] = vertices(path, layer.start ? layer.start[i] : Math.min(i, path.count - 1))
  const seen = (u: number, v: number) => u >= u0 - 1e-6 && u <= u1 + 1e-6 && v >= v0 && v <= v1
  for (let k = to - 1; k >= from; k--) {
    if (k > from && to - from === 2) {
      // A line of two points, in as many as a band has.
      for (let share = 96; share >= 0; share--) {
        const u = path.x![from] + ((path.x![k] - path.x![from]) * share) / 96
        const v = path.y![from] + ((path.y![k] - path.y![from]) * share) / 96
        if (seen(u, v)) return { text, x: toX(f, u) + (layer.x ? Math.max(dx, 4) : 7), y: toY(f, v) + (layer.style.above ? 0 : dy) }
      }
      return null
    }
    if (seen(path.x![k], path.y![k]))
      return { text, x: toX(f, path.x![k]) + (layer.x ? Math.max(dx, 4) : 7), y: toY(f, path.y![k]) + (layer.style.above ? 0 : dy) }
  }
  return null
}

export const fontOf = (style: Layer['style'], family: string): string => `${style.bold ? 600 : 400} ${style.size ?? 12}px ${family}`

export const paintTexts: Paint = ({ c, figure, theme, selection, crowd }: Brush, layer, f) => {
  const { style } = layer
  const visible = shown(layer, selection)
  c.font = fontOf(style, theme.font)
  c.textBaseline = 'middle'
  c.textAlign = style.anchor === 'middle' ? 'center' : style.anchor === 'end' ? 'right' : 'left'
  for (let i = 0; i < layer.count; i++) {
    const at = visible(i) ? placeOf(figure, layer, f, i) : null
    if (!at || (crowd && !crowd.seat(at, c.measureText(at.text).width, layer))) continue
    if (style.halo) {
      c.lineWidth = 3.5
      c.lineJoin = 'round'
      c.strokeStyle = theme.paper
      c.strokeText(at.text, at.x, at.y)
    }
    c.fillStyle = shade(theme, style) // the entry of a key says when it is shown, not its colour
    c.fillText(at.text, at.x, at.y)
  }
  c.textAlign = 'left'
  c.textBaseline = 'alphabetic'
}
