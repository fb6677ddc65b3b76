/**
 * A live chart in an element: paints a figure, and answers pointer, wheel and
 * keys. It knows no framework; the application, shared pages and embeds use it
 * alike.
 */
import { rowFinder, type Figure, type Fit } from '../api/figure'
import { shown } from '../painter/dots'
import { frameOf, fromX, fromY, isWhole, radiusOf, toX, toY, WHOLE, type Frame, type View } from '../painter/geometry'
import { paintFigure, type LineLabel } from '../painter/painter'
import { DARK, LIGHT, type Theme } from '../painter/theme'
import { dotCard, rowCard, type CardText } from './card'
import { nearestDot, nearestFit } from './nearest'

export interface ChartOptions {
  /** Gives the text values of a table row, for figures that do not carry them. */
  rowValues?: (row: number) => Promise<Record<string, string>>
  /** Told when one group is looked at alone, or all again. */
  onIsolate?: (group: number | null) => void
  /** Told when something that governs a word is pressed: x or y. */
  onPressAxis?: (axis: 'x' | 'y') => void
}

const REACH = 18
const DEEPEST = 1e-5

export class ChartView {
  private readonly base = document.createElement('canvas')
  private readonly over = document.createElement('canvas')
  private readonly card = document.createElement('div')
  private readonly tools = document.createElement('div')
  private readonly spoken = document.createElement('div')
  private figure: Figure | null = null
  private rowOf: (dot: number) => number = (dot) => dot
  private pressed: 'x' | 'y' | null = null
  private view: View = WHOLE
  private theme: Theme = LIGHT
  private labels: LineLabel[] = []
  private isolated: number | null = null
  private dot = -1
  private drag: { kind: 'zoom' | 'pan'; x: number; y: number; view: View; moved: boolean } | null = null
  private width = 0
  private height = 0
  private painting = 0
  private walk: { byX: Uint32Array; byY: Uint32Array } | null = null
  private readonly resizes: ResizeObserver
  private readonly dark = matchMedia('(prefers-color-scheme: dark)')
  private readonly stop = new AbortController()
  private readonly cardCache = new Map<number, CardText>()

  constructor(
    private readonly host: HTMLElement,
    private readonly options: ChartOptions = {},
  ) {
    host.classList.add('lark-chart')
    this.over.tabIndex = 0
    this.over.setAttribute('role', 'img')
    this.card.className = 'lark-card'
    this.card.hidden = true
    this.spoken.className = 'lark-spoken'
    this.spoken.setAttribute('role', 'status')
    this.tools.className = 'lark-tools'
    this.addTool('Zoom in', '+', () => this.zoom(1 / 1.5))
    this.addTool('Zoom out', '−', () => this.zoom(1.5))
    this.addTool('Show all', '⤢', () => this.reset())
    host.append(this.base, this.over, this.card, this.tools, this.spoken)
    this.listen()
    this.theme = this.dark.matches ? DARK : LIGHT
    this.resizes = new ResizeObserver(() => this.resize())
    this.resizes.observe(host)
    this.resize()
    void document.fonts?.load('600 13px "Hanken Grotesk"').then(() => this.schedule())
  }

  private addTool(label: string, sign: string, act: () => void): void {
    const button = document.createElement('button')
    button.type = 'button'
    button.textContent = sign
    button.title = label
    button.setAttribute('aria-label', label)
    button.addEventListener('click', act)
    this.tools.append(button)
  }

  /** Shows a figure; the view stays when the axes are the same as before. */
  show(figure: Figure, summary: string): void {
    const before = this.figure
    const sameAxes = before && before.x.column === figure.x.column && before.y.column === figure.y.column && before.x.kind === figure.x.kind && before.y.kind === figure.y.kind
      && before.x.from === figure.x.from && before.x.to === figure.x.to && before.y.from === figure.y.from && before.y.to === figure.y.to
    if (!sameAxes) this.view = WHOLE
    if (before?.colour?.column !== figure.colour?.column) this.isolate(null)
    this.figure = figure
    this.rowOf = rowFinder(figure)
    this.walk = null
    this.cardCache.clear()
    this.hideCard()
    this.over.setAttribute('aria-label', summary)
    this.schedule()
  }

  /** Looks at one group alone; null shows all. */
  isolate(group: number | null): void {
    if (group === this.isolated) return
    this.isolated = group
    this.walk = null
    this.hideCard()
    this.options.onIsolate?.(group)
    this.schedule()
  }

  get isolatedGroup(): number | null {
    return this.isolated
  }

  reset(): void {
    this.setView(WHOLE)
  }

  destroy(): void {
    this.stop.abort()
    this.resizes.disconnect()
    cancelAnimationFrame(this.painting)
    this.host.replaceChildren()
  }

  private listen(): void {
    const signal = this.stop.signal
    const on = <K extends keyof HTMLElementEventMap>(kind: K, act: (e: HTMLElementEventMap[K]) => void, passive = true) => this.over.addEventListener(kind, act, { signal, passive })
    on('pointermove', (e) => this.pointerMoved(e))
    on('pointerdown', (e) => this.pointerDown(e))
    on('pointerup', (e) => this.pointerUp(e))
    on('pointerleave', () => !this.drag && this.hideCard())
    on('pointercancel', () => this.endDrag())
    on('dblclick', () => this.reset())
    on('wheel', (e) => this.wheel(e), false)
    on('keydown', (e) => this.key(e), false)
    on('blur', () => this.hideCard())
    this.dark.addEventListener('change', () => ((this.theme = this.dark.matches ? DARK : LIGHT), this.schedule()), { signal })
  }

  private resize(): void {
    this.width = this.host.clientWidth
    this.height = this.host.clientHeight
    const ratio = devicePixelRatio || 1
    for (const canvas of [this.base, this.over]) {
      canvas.width = Math.round(this.width * ratio)
      canvas.height = Math.round(this.height * ratio)
    }
    this.paint()
  }

  private schedule(): void {
    if (this.painting) return
    this.painting = requestAnimationFrame(() => this.paint())
  }

  private frame(): Frame {
    return frameOf(this.figure!, this.width, this.height, this.view)
  }

  private paint(): void {
    cancelAnimationFrame(this.painting)
    this.painting = 0
    if (!this.figure || this.width === 0) return
    const ratio = devicePixelRatio || 1
    this.labels = paintFigure(this.base.getContext('2d', { willReadFrequently: this.figure.dots.count > 20_000 })!, this.figure, this.frame(), this.width, this.height, {
      theme: this.theme,
      isolated: this.isolated,
      pixelRatio: ratio,
    })
    this.tools.classList.toggle('zoomed', !isWhole(this.view))
    this.host.dataset.painted = String(this.figure.dots.count)
    this.paintOver()
  }

  private overlay(): CanvasRenderingContext2D {
    const c = this.over.getContext('2d')!
    const ratio = devicePixelRatio || 1
    c.setTransform(ratio, 0, 0, ratio, 0, 0)
    c.clearRect(0, 0, this.width, this.height)
    return c
  }

  /** Rings the mark that is looked at and leads to both axes. */
  private paintOver(): void {
    const c = this.overlay()
    if (!this.figure || this.dot < 0) return
    const f = this.frame()
    const x = toX(f, this.figure.dots.x[this.dot])
    const y = toY(f, this.figure.dots.y[this.dot])
    const r = radiusOf(this.figure, this.dot) + 2.5
    c.strokeStyle = this.theme.ink
    c.lineWidth = 1
    c.setLineDash([2, 3])
    c.beginPath()
    c.moveTo(f.left, y)
    c.lineTo(x - r, y)
    c.moveTo(x, y + r)
    c.lineTo(x, f.top + f.height)
    c.stroke()
    c.setLineDash([])
    c.lineWidth = 2
    c.beginPath()
    c.arc(x, y, r, 0, 2 * Math.PI)
    c.stroke()
  }

  private place(e: MouseEvent): [number, number] {
    const box = this.over.getBoundingClientRect()
    return [e.clientX - box.left, e.clientY - box.top]
  }

  private labelAt(x: number, y: number): LineLabel | undefined {
    return this.labels.find((l) => l.fit.group >= 0 && x >= l.x - 4 && x <= l.x + l.width + 4 && Math.abs(y - l.y) < 10)
  }

  private axisAt(x: number, y: number): 'x' | 'y' | null {
    const f = this.frame()
    if (!this.options.onPressAxis) return null
    if (y > f.top + f.height + 4 && x > f.left) return 'x'
    return x < f.left - 4 && y > f.top && y < f.top + f.height ? 'y' : null
  }

  private pointerMoved(e: PointerEvent): void {
    if (!this.figure) return
    const [x, y] = this.place(e)
    if (this.drag) {
      this.dragged(x, y)
      return
    }
    this.over.style.cursor = this.labelAt(x, y) || this.axisAt(x, y) ? 'pointer' : 'crosshair'
    const f = this.frame()
    // Lines are painted over dots: on a line it is the line that is pointed at.
    const fit = nearestFit(this.figure, f, this.isolated, x, y, 3)
    const dot = fit ? -1 : nearestDot(this.figure, f, this.isolated, x, y, REACH)
    if (fit) this.showFit(fit, x, y)
    else this.showDot(dot)
  }

  private pointerDown(e: PointerEvent): void {
    if (!this.figure || e.button !== 0) return
    const [x, y] = this.place(e)
    const label = this.labelAt(x, y)
    if (label) {
      this.isolate(this.isolated === label.fit.group ? null : label.fit.group)
      return
    }
    this.pressed = this.axisAt(x, y)
    if (this.pressed) return
    this.over.setPointerCapture(e.pointerId)
    this.drag = { kind: e.shiftKey ? 'pan' : 'zoom', x, y, view: this.view, moved: false }
  }

  private dragged(x: number, y: number): void {
    const drag = this.drag!
    if (!drag.moved && Math.hypot(x - drag.x, y - drag.y) < 5) return
    drag.moved = true
    this.hideCard()
    if (drag.kind === 'pan') {
      const f = { ...this.frame(), view: drag.view }
      const du = fromX(f, drag.x) - fromX(f, x)
      const dv = fromY(f, drag.y) - fromY(f, y)
      this.setView({ u0: drag.view.u0 + du, u1: drag.view.u1 + du, v0: drag.view.v0 + dv, v1: drag.view.v1 + dv })
      return
    }
    const c = this.overlay()
    c.fillStyle = this.theme.ink
    c.strokeStyle = this.theme.ink
    c.globalAlpha = 0.08
    c.fillRect(drag.x, drag.y, x - drag.x, y - drag.y)
    c.globalAlpha = 0.6
    c.strokeRect(drag.x, drag.y, x - drag.x, y - drag.y)
    c.globalAlpha = 1
  }

  private pointerUp(e: PointerEvent): void {
    const { drag, pressed } = this
    this.endDrag()
    // Only when the press is over, focus and all, its words open: else they would lose it and close at once.
    if (pressed && this.axisAt(...this.place(e)) === pressed) this.options.onPressAxis!(pressed)
    this.pressed = null
    if (!drag?.moved || drag.kind === 'pan') return
    const [x, y] = this.place(e)
    if (Math.abs(x - drag.x) < 8 || Math.abs(y - drag.y) < 8) return
    const f = this.frame()
    const [u, w] = [fromX(f, drag.x), fromX(f, x)].sort((a, b) => a - b)
    const [v, z] = [fromY(f, drag.y), fromY(f, y)].sort((a, b) => a - b)
    this.setView({ u0: u, u1: w, v0: v, v1: z })
  }

  private endDrag(): void {
    this.drag = null
    this.paintOver()
  }

  private wheel(e: WheelEvent): void {
    if (!this.figure) return
    e.preventDefault()
    const [x, y] = this.place(e)
    this.zoom(Math.exp(Math.max(-1, Math.min(1, e.deltaY / 400))), x, y)
  }

  /** Zooms about a place on the canvas, or the middle of the plot. */
  zoom(factor: number, x?: number, y?: number): void {
    const f = this.frame()
    const u = fromX(f, x ?? f.left + f.width / 2)
    const v = fromY(f, y ?? f.top + f.height / 2)
    const { u0, u1, v0, v1 } = this.view
    this.setView({ u0: u - (u - u0) * factor, u1: u + (u1 - u) * factor, v0: v - (v - v0) * factor, v1: v + (v1 - v) * factor })
  }

  private setView(view: View): void {
    const span = Math.min(view.u1 - view.u0, view.v1 - view.v0)
    if (span < DEEPEST || Math.max(view.u1 - view.u0, view.v1 - view.v0) > 20) return
    this.view = view
    this.hideCard()
    this.schedule()
  }

  private showDot(dot: number): void {
    if (dot === this.dot && (dot < 0 ? this.card.hidden : !this.card.hidden)) return
    this.dot = dot
    this.paintOver()
    if (dot < 0 || !this.figure) {
      this.hideCard()
      return
    }
    const carried = dotCard(this.figure, dot) ?? this.cardCache.get(dot)
    if (carried) {
      this.showCard(carried, dot)
      return
    }
    this.card.hidden = true
    const figure = this.figure
    void this.options.rowValues?.(this.rowOf(dot)).then((values) => {
      const text = rowCard(figure, values)
      this.cardCache.set(dot, text)
      if (this.dot === dot && this.figure === figure) this.showCard(text, dot)
    })
  }

  private showCard(text: CardText, dot: number): void {
    const f = this.frame()
    this.fillCard(text)
    this.placeCard(toX(f, this.figure!.dots.x[dot]), toY(f, this.figure!.dots.y[dot]), radiusOf(this.figure!, dot) + 12)
  }

  private showFit(fit: Fit, x: number, y: number): void {
    this.dot = -1
    this.paintOver()
    this.fillCard({ heading: fit.name, facts: [...fit.facts, ...(fit.band ? [{ name: 'band', value: fit.band }] : [])] })
    this.placeCard(x, y, 14)
  }

  private fillCard(text: CardText): void {
    this.card.replaceChildren()
    if (text.heading) {
      const heading = document.createElement('strong')
      heading.textContent = text.heading
      this.card.append(heading)
    }
    const list = document.createElement('dl')
    for (const fact of text.facts) {
      const name = document.createElement('dt')
      const value = document.createElement('dd')
      name.textContent = fact.name
      value.textContent = fact.value
      list.append(name, value)
    }
    this.card.append(list)
    this.card.hidden = false
  }

  private placeCard(x: number, y: number, gap: number): void {
    const { offsetWidth: w, offsetHeight: h } = this.card
    const left = x + gap + w <= this.width ? x + gap : Math.max(4, x - gap - w)
    const top = y + gap + h <= this.height ? y + gap : Math.max(4, y - gap - h)
    this.card.style.left = `${left}px`
    this.card.style.top = `${top}px`
  }

  private hideCard(): void {
    this.card.hidden = true
    if (this.dot >= 0) {
      this.dot = -1
      this.paintOver()
    }
  }

  /** Arrow keys walk from mark to mark: sideways along x, up and down along y. */
  private key(e: KeyboardEvent): void {
    if (!this.figure || e.ctrlKey || e.metaKey || e.altKey) return
    const walks: Record<string, ['byX' | 'byY', 1 | -1]> = { ArrowRight: ['byX', 1], ArrowLeft: ['byX', -1], ArrowUp: ['byY', 1], ArrowDown: ['byY', -1] }
    if (walks[e.key]) this.step(...walks[e.key])
    else if (e.key === '+' || e.key === '=') this.zoom(1 / 1.5)
    else if (e.key === '-') this.zoom(1.5)
    else if (e.key === '0') this.reset()
    else if (e.key === 'Escape' && (this.dot >= 0 || this.isolated !== null)) {
      this.hideCard()
      this.isolate(null)
    } else return
    e.preventDefault()
    e.stopPropagation()
  }

  private step(along: 'byX' | 'byY', by: 1 | -1): void {
    const { dots } = this.figure!
    if (!this.walk) {
      const visible = shown(this.figure!, this.isolated)
      const sorted = (values: ArrayLike<number>) => Uint32Array.from(Array.from({ length: dots.count }, (_, i) => i).filter(visible)).sort((a, b) => values[a] - values[b] || a - b)
      this.walk = { byX: sorted(dots.x), byY: sorted(dots.y) }
    }
    const order = this.walk[along]
    if (order.length === 0) return
    const at = this.dot < 0 ? (by > 0 ? -1 : order.length) : order.indexOf(this.dot)
    this.showDot(order[Math.min(order.length - 1, Math.max(0, at + by))])
    const text = [...this.card.querySelectorAll('strong, dt, dd')].map((e) => e.textContent).join(' ')
    this.spoken.textContent = text
  }
}
