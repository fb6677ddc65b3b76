/** Paints points: stamps drawn once and copied for thousands, sheets for more. */
import type { Layer } from '../../figure/figure'
import { Pictures } from '../dots/pictures'
import { paintOrder, radiusOf, toX, toY, type Frame } from '../geometry'
import { drawCharacter, isCharacter, traceShape } from '../shapes'
import { colourOf, paletteOf, shown } from '../selection'
import { shade } from '../theme'
import type { Brush } from './brush'

/** Above this many points they are painted on sheets. */
export const SHEETS_ABOVE = 4_000

const orders = new WeakMap<Layer, Uint32Array | null>()

function orderOf(layer: Layer): Uint32Array | null {
  let order = orders.get(layer)
  if (order === undefined) orders.set(layer, (order = paintOrder(layer)))
  return order
}

/** The pictures of what is painted once, and not moved. */
const still = new Pictures()

export function paintPoints(brush: Brush, layer: Layer, frame: Frame): void {
  if (layer.count > SHEETS_ABOVE) (brush.pictures ?? still).paint(brush, layer, frame)
  else stampPoints(brush, layer, frame)
}

function stampPoints({ c, figure, theme, selection, pixelRatio }: Brush, layer: Layer, frame: Frame): void {
  const palette = paletteOf(figure, layer, theme)
  const shapes = layer.keys?.shape ? figure.keys[layer.keys.shape - 1].entries : undefined
  const visible = shown(layer, selection)
  const order = orderOf(layer)
  const stamps = new Map<number, HTMLCanvasElement>() // of this layer, by entries and step
  const right = frame.left + frame.width
  const bottom = frame.top + frame.height
  for (let k = 0; k < layer.count; k++) {
    const i = order ? order[k] : k
    if (!visible(i)) continue
    const x = toX(frame, layer.x![i])
    const y = toY(frame, layer.y![i])
    if (!(x >= frame.left - 1 && x <= right + 1 && y >= frame.top - 1 && y <= bottom + 1)) continue
    const colour = layer.colour ? layer.colour[i] : 0
    const shape = layer.shape ? layer.shape[i] : 0
    const step = layer.radius ? layer.radius[i] : 0
    const key = (colour * 16 + shape) * 256 + step
    let stamp = stamps.get(key)
    if (!stamp) {
      stamp = stampOf(
        shapes?.[shape]?.shape ?? layer.style.shape ?? 'circle',
        radiusOf(layer, i),
        colourOf(palette, layer, i),
        layer.style.opacity ?? 1,
        layer.style.outline ?? false,
        layer.style.rim ? shade(theme, layer.style.rim) : '',
        layer.style.rim?.width ?? 1,
        pixelRatio,
      )
      stamps.set(key, stamp)
    }
    const side = stamp.width / pixelRatio
    c.drawImage(stamp, x - side / 2, y - side / 2, side, side)
  }
}

/** Stamps that were drawn already, the longest unused first; their number is bounded. */
const drawn = new Map<string, HTMLCanvasElement>()
const MOST_STAMPS = 3000

function stampOf(...of: Parameters<typeof makeStamp>): HTMLCanvasElement {
  const key = of.join(' ')
  const stamp = drawn.get(key) ?? makeStamp(...of)
  drawn.delete(key)
  drawn.set(key, stamp)
  if (drawn.size > MOST_STAMPS) drawn.delete(drawn.keys().next().value!)
  return stamp
}

function makeStamp(
  shape: string,
  r: number,
  colour: string,
  opacity: number,
  outlined: boolean,
  rim: string,
  rimWidth: number,
  pixelRatio: number,
): HTMLCanvasElement {
  const half = Math.ceil((r * 1.5 + 2 + (isCharacter(shape) ? 8 : rim ? rimWidth : 0)) * pixelRatio)
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = 2 * half
  const c = canvas.getContext('2d')!
  c.scale(pixelRatio, pixelRatio)
  if (isCharacter(shape)) {
    drawCharacter(c, shape, half / pixelRatio, half / pixelRatio, r, colour)
    return canvas
  }
  traceShape(c, shape, half / pixelRatio, half / pixelRatio, r)
  c.fillStyle = colour
  c.globalAlpha = opacity
  c.fill()
  if (outlined || rim) {
    c.globalAlpha = rim ? 1 : Math.min(1, opacity + 0.35)
    c.strokeStyle = rim || colour
    c.lineWidth = rimWidth
    c.stroke()
  }
  return canvas
}
