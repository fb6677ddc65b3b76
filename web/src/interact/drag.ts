/** What a pressed pointer does as it is dragged over a chart: a part is zoomed to, the view moved, or rows chosen. */
import { fromX, fromY, type Frame, type View } from '../painter/geometry'
import type { Theme } from '../painter/theme'
import { paintOutline, type Outline } from './choose'
import { panned } from './zoom'

/** What a drag needs of the chart that it is on. */
export interface Dragged {
  /** Takes the card away. */
  hideCard: () => void
  /** The canvas over the picture, wiped. */
  overlay: () => CanvasRenderingContext2D
  theme: () => Theme
  setView: (view: View) => void
  choose: (outline: Outline) => void
}

/** How far a pointer goes before it is more than a press, and how wide and high a part is that is zoomed to, in pixels. */
const PRESS = 5
const LEAST = 8

interface Kind {
  to: (drag: Drag, x: number, y: number, on: Dragged) => void
  end?: (drag: Drag, x: number, y: number, on: Dragged) => void
}

/** What is done while a pointer is dragged, and when it is let go. */
const KINDS = {
  pan: {
    to: ({ frame, from, view }, x, y, on) =>
      on.setView(panned(view, fromX(frame, from[0]) - fromX(frame, x), fromY(frame, from[1]) - fromY(frame, y))),
  },
  choose: {
    to: ({ outline }, x, y, on) => {
      outline.push([x, y])
      paintOutline(on.overlay(), outline, on.theme())
    },
    end: ({ outline }, _x, _y, on) => on.choose(outline),
  },
  zoom: {
    to: ({ from: [x0, y0] }, x, y, on) => {
      const c = on.overlay()
      c.fillStyle = c.strokeStyle = on.theme().ink
      c.globalAlpha = 0.08
      c.fillRect(x0, y0, x - x0, y - y0)
      c.globalAlpha = 0.6
      c.strokeRect(x0, y0, x - x0, y - y0)
      c.globalAlpha = 1
    },
    end: ({ frame, from: [x0, y0] }, x, y, on) => {
      if (Math.abs(x - x0) < LEAST || Math.abs(y - y0) < LEAST) return
      const [u0, u1] = [fromX(frame, x0), fromX(frame, x)].sort((a, b) => a - b)
      const [v0, v1] = [fromY(frame, y0), fromY(frame, y)].sort((a, b) => a - b)
      on.setView({ u0, u1, v0, v1 })
    },
  },
} satisfies Record<string, Kind>

export class Drag {
  /** Whether it is more than a press by now. */
  moved = false
  readonly outline: Outline
  private readonly kind: Kind

  constructor(
    kind: keyof typeof KINDS,
    readonly frame: Frame,
    readonly from: [x: number, y: number],
    readonly view: View,
  ) {
    this.kind = KINDS[kind]
    this.outline = [from]
  }

  /** Takes the pointer to a place. */
  to(x: number, y: number, on: Dragged): void {
    if (!this.moved && Math.hypot(x - this.from[0], y - this.from[1]) < PRESS) return
    this.moved = true
    on.hideCard()
    this.kind.to(this, x, y, on)
  }

  end(x: number, y: number, on: Dragged): void {
    if (this.moved) this.kind.end?.(this, x, y, on)
  }
}
