/** Paints points: stamps drawn once and copied for thousands, pixels blended by hand for more. */
import type { Layer } from '../../api/figure'
import { paintOrder, radiusOf, toX, toY, type Frame } from '../geometry'
import { traceShape } from '../shapes'
import { colourOf, paletteOf, shown } from '../selection'
import type { Brush } from './brush'

/** Above this many points pixels are blended directly, as circles without an outline. */
export const BLEND_ABOVE = 20_000

const orders = new WeakMap<Layer, Uint32Array | null>()

function orderOf(layer: Layer): Uint32Array | null {
  let order = orders.get(layer)
  if (order === undefined) orders.set(layer, (order = paintOrder(layer)))
  return order
}

export function paintPoints(brush: Brush, layer: Layer, frame: Frame): void {
  if (layer.count > BLEND_ABOVE) blendPoints(brush, layer, frame)
  else stampPoints(brush, layer, frame)
}

function stampPoints({ c, figure, theme, selection, pixelRatio }: Brush, layer: Layer, frame: Frame): void {
  const palette = paletteOf(figure, layer, theme)
  const shapes = layer.keys?.shape ? figure.keys[layer.keys.shape - 1].entries : undefined
  const visible = shown(layer, selection)
  const order = orderOf(layer)
  const stamps = new Map<number, HTMLCanvasElement>()
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
      stamp = makeStamp(shapes?.[shape]?.shape ?? 'circle', radiusOf(layer, i), colourOf(palette, layer, i), layer.style.opacity ?? 1, layer.style.outline ?? false, pixelRatio)
      stamps.set(key, stamp)
    }
    const side = stamp.width / pixelRatio
    c.drawImage(stamp, x - side / 2, y - side / 2, side, side)
  }
}

function makeStamp(shape: string, r: number, colour: string, opacity: number, outlined: boolean, pixelRatio: number): HTMLCanvasElement {
  const half = Math.ceil((r * 1.5 + 2) * pixelRatio)
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = 2 * half
  const c = canvas.getContext('2d')!
  c.scale(pixelRatio, pixelRatio)
  traceShape(c, shape, half / pixelRatio, half / pixelRatio, r)
  c.fillStyle = colour
  c.globalAlpha = opacity
  c.fill()
  if (outlined) {
    c.globalAlpha = Math.min(1, opacity + 0.35)
    c.strokeStyle = colour
    c.lineWidth = 1
    c.stroke()
  }
  return canvas
}

const channels = (hex: string) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16))

/** How much of each pixel a circle covers, from 0 to 256, by 4 by 4 samples a pixel. */
function coverage(radius: number): { half: number; side: number; cover: Uint16Array } {
  const half = Math.ceil(radius)
  const side = 2 * half + 1
  const cover = new Uint16Array(side * side)
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      let inside = 0
      for (let s = 0; s < 16; s++) {
        const dx = x - half + ((s & 3) - 1.5) / 4
        const dy = y - half + ((s >> 2) - 1.5) / 4
        if (dx * dx + dy * dy <= radius * radius) inside++
      }
      cover[y * side + x] = inside * 16
    }
  }
  return { half, side, cover }
}

function blendPoints({ c, figure, theme, selection, pixelRatio }: Brush, layer: Layer, frame: Frame): void {
  const x0 = Math.floor(frame.left * pixelRatio)
  const y0 = Math.floor(frame.top * pixelRatio)
  const width = Math.ceil(frame.width * pixelRatio)
  const height = Math.ceil(frame.height * pixelRatio)
  const image = c.getImageData(x0, y0, width, height)
  const pixels = image.data
  const palette = paletteOf(figure, layer, theme).map(channels)
  const visible = shown(layer, selection)
  const order = orderOf(layer)
  const stamps = new Map<number, ReturnType<typeof coverage>>()
  const alpha = Math.round((layer.style.opacity ?? 1) * 256)
  const { u0, u1, v0, v1 } = frame.view
  const scaleX = width / (u1 - u0)
  const scaleY = height / (v1 - v0)
  for (let k = 0; k < layer.count; k++) {
    const i = order ? order[k] : k
    if (selection && !visible(i)) continue
    const px = Math.round((layer.x![i] - u0) * scaleX)
    const py = Math.round(height - (layer.y![i] - v0) * scaleY)
    if (px < 0 || py < 0 || px >= width || py >= height) continue
    const step = layer.radius ? layer.radius[i] : 0
    let stamp = stamps.get(step)
    if (!stamp) stamps.set(step, (stamp = coverage(radiusOf(layer, i) * pixelRatio)))
    const { half, side, cover } = stamp
    const [r, g, b] = palette[layer.colour && palette.length > 1 ? layer.colour[i] : 0]
    const top = Math.max(0, half - py)
    const bottom = Math.min(side, height - py + half)
    const left = Math.max(0, half - px)
    const right = Math.min(side, width - px + half)
    for (let sy = top; sy < bottom; sy++) {
      let at = 4 * ((py - half + sy) * width + px - half + left)
      for (let s = sy * side + left; s < sy * side + right; s++, at += 4) {
        const a = (cover[s] * alpha) >> 8
        if (a === 0) continue
        pixels[at] += ((r - pixels[at]) * a) >> 8
        pixels[at + 1] += ((g - pixels[at + 1]) * a) >> 8
        pixels[at + 2] += ((b - pixels[at + 2]) * a) >> 8
      }
    }
  }
  c.putImageData(image, x0, y0)
}
