/** Paints dots: stamps drawn once and copied for thousands, pixels blended by hand for more. */
import type { Figure } from '../api/figure'
import { paintOrder, radiusOf, toX, toY, type Frame } from './geometry'
import { traceShape } from './shapes'
import { shade, type Theme } from './theme'

/** Above this many dots pixels are blended directly, as circles without an outline. */
const BLEND_ABOVE = 20_000

/** Whether a dot is shown while one group is looked at alone. */
export function shown(figure: Figure, isolated: number | null): (dot: number) => boolean {
  const { colour } = figure.dots
  if (isolated === null || !colour || !figure.colour?.groups) return () => true
  return (dot) => colour[dot] === isolated
}

const orders = new WeakMap<Figure, Uint32Array | null>()

function orderOf(figure: Figure): Uint32Array | null {
  let order = orders.get(figure)
  if (order === undefined) orders.set(figure, (order = paintOrder(figure)))
  return order
}

/** The colour of each step or group of a figure. */
export function paletteOf(figure: Figure, theme: Theme): string[] {
  const { colour } = figure
  if (colour?.gradient) return theme.dark ? colour.gradient.dark : colour.gradient.light
  if (colour?.groups) return colour.groups.map((g) => shade(theme, g))
  return [theme.neutral]
}

export function paintDots(c: CanvasRenderingContext2D, figure: Figure, frame: Frame, theme: Theme, isolated: number | null, pixelRatio: number): void {
  if (figure.dots.count > BLEND_ABOVE) blendDots(c, figure, frame, theme, isolated, pixelRatio)
  else stampDots(c, figure, frame, theme, isolated, pixelRatio)
}

function stampDots(c: CanvasRenderingContext2D, figure: Figure, frame: Frame, theme: Theme, isolated: number | null, pixelRatio: number): void {
  const { dots } = figure
  const palette = paletteOf(figure, theme)
  const visible = shown(figure, isolated)
  const order = orderOf(figure)
  const stamps = new Map<number, HTMLCanvasElement>()
  const outlined = dots.count <= 4000
  const right = frame.left + frame.width
  const bottom = frame.top + frame.height
  for (let k = 0; k < dots.count; k++) {
    const i = order ? order[k] : k
    if (!visible(i)) continue
    const x = toX(frame, dots.x[i])
    const y = toY(frame, dots.y[i])
    if (!(x >= frame.left - 1 && x <= right + 1 && y >= frame.top - 1 && y <= bottom + 1)) continue
    const colour = dots.colour ? dots.colour[i] : 0
    const shape = dots.shape ? dots.shape[i] : 0
    const step = dots.radius ? dots.radius[i] : 0
    const key = (colour * 16 + shape) * 256 + step
    let stamp = stamps.get(key)
    if (!stamp) {
      stamp = makeStamp(figure.shape?.groups?.[shape]?.shape ?? 'circle', radiusOf(figure, i), palette[colour], dots.opacity, outlined, pixelRatio)
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

function blendDots(c: CanvasRenderingContext2D, figure: Figure, frame: Frame, theme: Theme, isolated: number | null, pixelRatio: number): void {
  const { dots } = figure
  const x0 = Math.floor(frame.left * pixelRatio)
  const y0 = Math.floor(frame.top * pixelRatio)
  const width = Math.ceil(frame.width * pixelRatio)
  const height = Math.ceil(frame.height * pixelRatio)
  const image = c.getImageData(x0, y0, width, height)
  const pixels = image.data
  const palette = paletteOf(figure, theme).map(channels)
  const visible = shown(figure, isolated)
  const order = orderOf(figure)
  const stamps = new Map<number, ReturnType<typeof coverage>>()
  const alpha = Math.round(dots.opacity * 256)
  const { u0, u1, v0, v1 } = frame.view
  const scaleX = width / (u1 - u0)
  const scaleY = height / (v1 - v0)
  for (let k = 0; k < dots.count; k++) {
    const i = order ? order[k] : k
    if (isolated !== null && !visible(i)) continue
    const px = Math.round((dots.x[i] - u0) * scaleX)
    const py = Math.round(height - (dots.y[i] - v0) * scaleY)
    if (px < 0 || py < 0 || px >= width || py >= height) continue
    const step = dots.radius ? dots.radius[i] : 0
    let stamp = stamps.get(step)
    if (!stamp) stamps.set(step, (stamp = coverage(radiusOf(figure, i) * pixelRatio)))
    const { half, side, cover } = stamp
    const [r, g, b] = palette[dots.colour ? dots.colour[i] : 0]
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
