/** The whole picture, small, in a corner while a part of it is looked at; a press on it moves there. */
import type { Figure, Layer } from '../figure/figure'
import { isWhole, vertices, WHOLE, type Frame, type View } from '../painter/geometry'
import { seen } from '../painter/primitives/thin'
import { colourOf, paletteOf } from '../painter/selection'
import type { Theme } from '../painter/theme'

const WIDTH = 132
/** How many points are drawn at most: every so many of more. */
const MOST = 20_000

/** A colour as the four bytes of a pixel. */
const pixelOf = (hex: string): number =>
  0xff000000 | (parseInt(hex.slice(5, 7), 16) << 16) | (parseInt(hex.slice(3, 5), 16) << 8) | parseInt(hex.slice(1, 3), 16)

export class Overview {
  readonly element = document.createElement('canvas')
  private readonly picture = document.createElement('canvas')
  private of: { figure: Figure; dark: boolean; width: number; height: number } | null = null
  private height = 80

  constructor(moveTo: (u: number, v: number) => void) {
    this.element.className = 'lark-overview'
    this.element.setAttribute('aria-hidden', 'true') // what it does, keys and buttons do
    this.element.hidden = true
    const move = (e: PointerEvent) => {
      if (e.type === 'pointermove' && !(e.buttons & 1)) return
      const box = this.element.getBoundingClientRect()
      moveTo((e.clientX - box.left) / box.width, 1 - (e.clientY - box.top) / box.height)
      e.stopPropagation()
    }
    this.element.addEventListener('pointerdown', move)
    this.element.addEventListener('pointermove', move)
  }

  /** Paints the whole picture, where it was not. */
  prepare(figure: Figure, frame: Frame | undefined, theme: Theme): void {
    if (!frame || figure.panels.filter((p) => !p.edge).length > 1) return
    this.height = Math.round(Math.min(WIDTH, Math.max(48, (WIDTH * frame.height) / frame.width)))
    this.paintWhole(figure, theme, devicePixelRatio || 1)
  }

  /** Shows what is seen of the whole of the first panel, at the corner of its frame. */
  show(figure: Figure, frame: Frame | undefined, view: View, theme: Theme): void {
    this.element.hidden = !frame || isWhole(view) || figure.panels.filter((p) => !p.edge).length > 1
    if (this.element.hidden || !frame) return
    const ratio = devicePixelRatio || 1
    this.prepare(figure, frame, theme)
    const { element } = this
    element.style.left = `${frame.left + 8}px`
    element.style.top = `${frame.top + 8}px`
    element.style.width = `${WIDTH}px`
    element.style.height = `${this.height}px`
    element.width = WIDTH * ratio
    element.height = this.height * ratio
    const c = element.getContext('2d')!
    c.drawImage(this.picture, 0, 0)
    c.scale(ratio, ratio)
    const [left, top] = [view.u0 * WIDTH, (1 - view.v1) * this.height]
    c.fillStyle = theme.copper
    c.globalAlpha = 0.12
    c.fillRect(left, top, (view.u1 - view.u0) * WIDTH, (view.v1 - view.v0) * this.height)
    c.globalAlpha = 1
    c.strokeStyle = theme.copper
    c.lineWidth = 1.5
    c.strokeRect(left, top, Math.max(3, (view.u1 - view.u0) * WIDTH), Math.max(3, (view.v1 - view.v0) * this.height))
  }

  /** Thousands of points as pixels: a rectangle each would hold the first frame of a zoom. */
  private paintPoints(c: CanvasRenderingContext2D, layer: Layer, palette: number[], ratio: number): void {
    const { width, height } = this.picture
    const image = c.getImageData(0, 0, width, height)
    const pixels = new Uint32Array(image.data.buffer)
    const side = Math.max(1, Math.round(ratio))
    for (let i = 0; i < layer.count; i += Math.ceil(layer.count / MOST)) {
      const [x, y] = [Math.floor(layer.x![i] * width), Math.floor((1 - layer.y![i]) * height)]
      const pixel = palette[layer.colour ? layer.colour[i] : 0] ?? palette[0]
      for (let dy = 0; dy < side; dy++)
        for (let dx = 0; dx < side; dx++)
          if (x + dx >= 0 && x + dx < width && y + dy >= 0 && y + dy < height) pixels[(y + dy) * width + x + dx] = pixel
    }
    c.putImageData(image, 0, 0)
  }

  private paintWhole(figure: Figure, theme: Theme, ratio: number): void {
    const { of } = this
    if (of && of.figure === figure && of.dark === theme.dark && of.width === ratio && of.height === this.height) return
    this.of = { figure, dark: theme.dark, width: ratio, height: this.height }
    this.picture.width = WIDTH * ratio
    this.picture.height = this.height * ratio
    const c = this.picture.getContext('2d')!
    c.scale(ratio, ratio)
    c.fillStyle = theme.paper
    c.fillRect(0, 0, WIDTH, this.height)
    const whole: Frame = { left: 0, top: 0, width: WIDTH, height: this.height, view: WHOLE }
    const at = (u: number, v: number): [number, number] => [u * WIDTH, (1 - v) * this.height]
    for (const layer of figure.layers) {
      if (layer.panel !== 0) continue
      const palette = paletteOf(figure, layer, theme)
      if (layer.primitive === 'points') {
        this.paintPoints(c, layer, palette.map(pixelOf), ratio)
      } else if (layer.primitive === 'paths' || layer.primitive === 'polygons') {
        for (let i = 0; i < layer.count; i++) {
          const [from, to] = vertices(layer, i)
          c.strokeStyle = c.fillStyle = colourOf(palette, layer, i)
          c.beginPath()
          for (const k of seen(layer, whole, from, to, ratio)) c.lineTo(...at(layer.x![k], layer.y![k]))
          if (layer.primitive === 'polygons' && layer.style.fill) c.fill()
          else c.stroke()
        }
      } else if (layer.primitive === 'rects') {
        for (let i = 0; i < layer.count; i++) {
          c.fillStyle = colourOf(palette, layer, i)
          const [x, y] = at(layer.x![i], layer.y![i])
          const [x2, y2] = at(layer.x2![i], layer.y2![i])
          c.fillRect(Math.min(x, x2), Math.min(y, y2), Math.max(0.8, Math.abs(x2 - x)), Math.max(0.8, Math.abs(y2 - y)))
        }
      }
    }
  }
}
