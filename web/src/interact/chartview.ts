/**
 * A live chart in an element: paints a figure, and answers pointer, wheel and
 * keys. It knows no framework; the application, shared pages and embeds use it
 * alike.
 */
import { pointCount, rowFinder, scaleX, scaleY, type Figure, type Layer, type Selection } from '../api/figure'
import { fromX, fromY, inside, isWhole, WHOLE, type Frame, type View } from '../painter/geometry'
import { paintFigure } from '../painter/painter'
import { fontOf, placeOf } from '../painter/primitives/texts'
import { BLEND_ABOVE } from '../painter/primitives/points'
import { shown } from '../painter/selection'
import { themeNow, whenThemeTurns } from '../painter/theme'
import { valueAt } from '../scale/scale'
import { ownCard, pointCard, rowCard, sameXCard, type CardText } from './card'
import { CardBox } from './cardbox'
import { compareCard, freeCell } from './compare'
import { paintEmphasis, paintSameX } from './emphasis'
import { hitAt, pointHit, type Hit } from './hit'
import { eased, SLIDE, slideBetween } from './slide'
import { Walk, type Along } from './walk'
import { allowed, panned, zoomed } from './zoom'

export interface ChartOptions {
  /** Gives the text values of a table row, for figures that do not carry them. */
  rowValues?: (row: number) => Promise<Record<string, string>>
  /** Told when entries of a key are looked at alone, or all again. */
  onIsolate?: (selection: Selection | null) => void
  /** Told when something that governs a word is pressed: x or y. */
  onPressAxis?: (axis: 'x' | 'y') => void
  /** Told when a mark that stands for a group along an axis is pressed. */
  onPressGroup?: (axis: 'x' | 'y', group: string) => void
  /** Told when the end of an axis was dragged: the values at its ends now. */
  onDragAxis?: (axis: 'x' | 'y', from: number, to: number) => void
}

const REACH = 18

/** Whether less motion is preferred. */
const calm = () => matchMedia('(prefers-reduced-motion: reduce)').matches

interface Slide {
  at: (share: number) => Figure
  begun: number
}

export const sameSelection = (a: Selection | null, b: Selection | null) => a?.key === b?.key && a?.entries.join() === b?.entries.join()

export class ChartView {
  private readonly base = document.createElement('canvas')
  private readonly over = document.createElement('canvas')
  private readonly card = new CardBox()
  private readonly tools = document.createElement('div')
  private readonly spoken = document.createElement('div')
  private figure: Figure | null = null
  private frames: Frame[] = []
  private pressed: 'x' | 'y' | null = null
  private view: View = WHOLE
  private theme = themeNow()
  private selection: Selection | null = null
  private hit: Hit | null = null
  private end: { axis: 'x' | 'y'; frame: Frame; high: boolean; at: number } | null = null
  private drag: { kind: 'zoom' | 'pan'; frame: Frame; x: number; y: number; view: View; moved: boolean } | null = null
  private pointer: [number, number] = [-1, -1]
  private width = 0
  private height = 0
  private painting = 0
  private walk: Walk | null = null
  private sliding: Slide | null = null
  private readonly resizes: ResizeObserver
  private readonly stop = new AbortController()
  private readonly rowCards = new Map<string, CardText>()

  constructor(
    private readonly host: HTMLElement,
    private readonly options: ChartOptions = {},
  ) {
    host.classList.add('lark-chart')
    this.over.tabIndex = 0
    this.over.setAttribute('role', 'img')
    this.spoken.className = 'lark-spoken'
    this.spoken.setAttribute('role', 'status')
    this.tools.className = 'lark-tools'
    this.addTool('Zoom in', '+', () => this.zoom(1 / 1.5))
    this.addTool('Zoom out', '−', () => this.zoom(1.5))
    this.addTool('Show all', '⤢', () => this.reset())
    host.append(this.base, this.over, this.card.element, this.tools, this.spoken)
    this.listen()
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
    if (!before || axesOf(before) !== axesOf(figure)) this.view = WHOLE
    if (before?.keys.map((k) => k.column).join('\n') !== figure.keys.map((k) => k.column).join('\n')) this.isolate(null)
    this.figure = figure
    this.walk = null
    this.rowCards.clear()
    this.hideCard()
    this.over.setAttribute('aria-label', summary)
    const slide = before && before !== figure && isWhole(this.view) && !calm() ? slideBetween(before, figure) : null
    this.sliding = slide && { at: slide, begun: performance.now() }
    if (!this.resize()) this.paint()
  }

  /** Looks at entries of a key alone; null shows all. */
  isolate(selection: Selection | null): void {
    if (sameSelection(selection, this.selection)) return
    this.selection = selection
    this.walk = null
    this.hideCard()
    this.options.onIsolate?.(selection)
    this.schedule()
  }

  get isolated(): Selection | null {
    return this.selection
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
    signal.addEventListener(
      'abort',
      whenThemeTurns(() => ((this.theme = themeNow()), this.schedule())),
    )
  }

  /** Takes the size that the host has now, and paints where it is another. */
  private resize(): boolean {
    if (this.width === this.host.clientWidth && this.height === this.host.clientHeight) return false
    this.width = this.host.clientWidth
    this.height = this.host.clientHeight
    const ratio = devicePixelRatio || 1
    for (const canvas of [this.base, this.over]) {
      canvas.width = Math.round(this.width * ratio)
      canvas.height = Math.round(this.height * ratio)
    }
    this.paint()
    return true
  }

  private schedule(): void {
    if (this.painting) return
    this.painting = requestAnimationFrame(() => this.paint())
  }

  private paint(): void {
    cancelAnimationFrame(this.painting)
    this.painting = 0
    if (!this.figure || this.width === 0) return
    const points = pointCount(this.figure)
    const c = this.base.getContext('2d', { willReadFrequently: points > BLEND_ABOVE })!
    const begun = performance.now()
    this.frames = paintFigure(c, this.figureNow(begun), this.width, this.height, this.view, { theme: this.theme, selection: this.selection, pixelRatio: devicePixelRatio || 1 })
    this.tools.classList.toggle('zoomed', !isWhole(this.view))
    this.host.dataset.paintMs = (performance.now() - begun).toFixed(1)
    this.host.dataset.paints = String(Number(this.host.dataset.paints ?? 0) + 1)
    this.host.dataset.painted = String(points || this.figure.layers.reduce((sum, l) => sum + (l.x?.length ?? 0), 0))
    this.paintOver()
  }

  /** The figure, or what it looks like on its way from the one before. */
  private figureNow(now: number): Figure {
    const share = this.sliding ? (now - this.sliding.begun) / SLIDE : 1
    if (!this.sliding || share >= 1) {
      this.sliding = null
      return this.figure!
    }
    this.schedule()
    return this.sliding.at(eased(share))
  }

  private overlay(): CanvasRenderingContext2D {
    const c = this.over.getContext('2d')!
    const ratio = devicePixelRatio || 1
    c.setTransform(ratio, 0, 0, ratio, 0, 0)
    c.clearRect(0, 0, this.width, this.height)
    return c
  }

  private paintOver(sameX: number | null = null): void {
    const c = this.overlay()
    if (!this.figure) return
    if (sameX !== null && (this.figure.panels.length > 1 || (pointCount(this.figure) === 0 && !this.hit))) paintSameX(c, this.figure, this.frames, this.selection, sameX, this.theme)
    if (this.hit) paintEmphasis(c, this.figure, this.frames, this.hit, this.theme)
  }

  private place(e: MouseEvent): [number, number] {
    const box = this.over.getBoundingClientRect()
    return [e.clientX - box.left, e.clientY - box.top]
  }

  /** The label of a key's entry at a place, as a selection. */
  private labelAt(x: number, y: number): Selection | null {
    const c = this.over.getContext('2d')!
    for (const layer of this.figure?.layers ?? []) {
      if (layer.primitive !== 'texts' || !layer.keys?.colour || !layer.colour) continue
      for (let i = 0; i < layer.count; i++) {
        const at = placeOf(this.figure!, layer, this.frames[layer.panel], i)
        if (!at) continue
        c.font = fontOf(layer.style, this.theme.font)
        const width = c.measureText(at.text).width
        if (x >= at.x - 4 && x <= at.x + width + 4 && Math.abs(y - at.y) < 10) return { key: layer.keys.colour, entries: [layer.colour[i]] }
      }
    }
    return null
  }

  private axisAt(x: number, y: number): 'x' | 'y' | null {
    if (!this.options.onPressAxis) return null
    for (const f of this.frames) {
      if (y > f.top + f.height + 4 && y < f.top + f.height + 64 && x > f.left && x < f.left + f.width) return 'x'
      if (x < f.left - 4 && x > f.left - 140 && y > f.top && y < f.top + f.height && !this.frames.some((g) => inside(g, x, y))) return 'y'
    }
    return null
  }

  private pointerMoved(e: PointerEvent): void {
    if (!this.figure) return
    const [x, y] = (this.pointer = this.place(e))
    if (this.drag) {
      this.dragged(x, y)
      return
    }
    if (this.end) {
      this.draggedEnd(x, y)
      return
    }
    this.over.style.cursor = this.endAt(x, y) ? (this.endAt(x, y)!.axis === 'x' ? 'ew-resize' : 'ns-resize') : this.labelAt(x, y) || this.axisAt(x, y) ? 'pointer' : 'crosshair'
    const f = this.frames.find((f) => inside(f, x, y))
    this.lookAt(hitAt(this.figure, this.frames, this.selection, x, y, REACH), f ? fromX(f, x) : null)
  }

  private pointerDown(e: PointerEvent): void {
    if (!this.figure || e.button !== 0) return
    const [x, y] = this.place(e)
    const label = this.labelAt(x, y)
    if (label) {
      this.isolate(sameSelection(label, this.selection) ? null : label)
      return
    }
    if ((this.end = this.endAt(x, y))) {
      this.over.setPointerCapture(e.pointerId)
      return
    }
    this.pressed = this.axisAt(x, y)
    const frame = this.frames.find((f) => inside(f, x, y))
    if (this.pressed || !frame) return
    this.over.setPointerCapture(e.pointerId)
    this.drag = { kind: e.shiftKey ? 'pan' : 'zoom', frame, x, y, view: this.view, moved: false }
  }

  private dragged(x: number, y: number): void {
    const drag = this.drag!
    if (!drag.moved && Math.hypot(x - drag.x, y - drag.y) < 5) return
    drag.moved = true
    this.hideCard()
    if (drag.kind === 'pan') {
      this.setView(panned(drag.view, fromX(drag.frame, drag.x) - fromX(drag.frame, x), fromY(drag.frame, drag.y) - fromY(drag.frame, y)))
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

  /** The end of an axis of numbers or dates that can be dragged from a place: the strip of labels near its end. */
  private endAt(x: number, y: number): typeof this.end {
    if (!this.options.onDragAxis || !isWhole(this.view)) return null
    for (const [panel, f] of this.frames.entries()) {
      const below = y > f.top + f.height + 2 && y < f.top + f.height + END_REACH
      const beside = x < f.left - 2 && x > f.left - END_REACH
      for (const high of [false, true]) {
        const [atX, atY] = [f.left + (high ? f.width : 0), f.top + (high ? 0 : f.height)]
        if (below && Math.abs(x - atX) < END_REACH / 2 && scaleX(this.figure!, panel).kind !== 'groups') return { axis: 'x', frame: f, high, at: high ? 1 : 0 }
        if (beside && Math.abs(y - atY) < END_REACH / 2 && scaleY(this.figure!, panel).kind !== 'groups') return { axis: 'y', frame: f, high, at: high ? 1 : 0 }
      }
    }
    return null
  }

  /** Shows where the end of the axis would stand. */
  private draggedEnd(x: number, y: number): void {
    const end = this.end!
    const { frame: f } = end
    const share = end.axis === 'x' ? (x - f.left) / f.width : (f.top + f.height - y) / f.height
    end.at = end.high ? Math.max(0.05, Math.min(3, share)) : Math.min(0.95, Math.max(-2, share))
    this.hideCard()
    const c = this.overlay()
    c.fillStyle = this.theme.ink
    c.globalAlpha = 0.08
    const [from, to] = end.high ? [Math.min(end.at, 1), Math.max(end.at, 1)] : [Math.min(end.at, 0), Math.max(end.at, 0)]
    if (end.axis === 'x') c.fillRect(f.left + from * f.width, f.top, (to - from) * f.width, f.height)
    else c.fillRect(f.left, f.top + f.height - to * f.height, f.width, (to - from) * f.height)
    c.globalAlpha = 1
  }

  /** Tells the limits of an axis whose end was dragged; a press without a way is a press on the axis. */
  private endDragged(): void {
    const { axis, frame, high, at } = this.end!
    this.end = null
    this.paintOver()
    if (Math.abs(at - (high ? 1 : 0)) < 0.015) return void this.options.onPressAxis?.(axis)
    const panel = this.frames.indexOf(frame)
    const scale = (axis === 'x' ? scaleX : scaleY)(this.figure!, Math.max(panel, 0))
    const [from, to] = high ? [0, at] : [at, 1]
    this.options.onDragAxis!(axis, roundedTo(valueAt(scale, from), scale), roundedTo(valueAt(scale, to), scale))
  }

  private pointerUp(e: PointerEvent): void {
    if (this.end) {
      this.endDragged()
      return
    }
    const { drag, pressed } = this
    this.endDrag()
    if (drag && !drag.moved) this.pressedGroup()
    // Only when the press is over, focus and all, its words open: else they would lose it and close at once.
    if (pressed && this.axisAt(...this.place(e)) === pressed) this.options.onPressAxis!(pressed)
    this.pressed = null
    if (!drag?.moved || drag.kind === 'pan') return
    const [x, y] = this.place(e)
    if (Math.abs(x - drag.x) < 8 || Math.abs(y - drag.y) < 8) return
    const f = drag.frame
    const [u, w] = [fromX(f, drag.x), fromX(f, x)].sort((a, b) => a - b)
    const [v, z] = [fromY(f, drag.y), fromY(f, y)].sort((a, b) => a - b)
    this.setView({ u0: u, u1: w, v0: v, v1: z })
  }

  /** The group along an axis that the mark that is pointed at stands for. */
  private pressedGroup(): void {
    const layer = this.hit && this.figure!.layers[this.hit.layer]
    if (!layer || layer.rows || !this.options.onPressGroup) return
    const f = this.frames[layer.panel]
    for (const [axis, scale, at] of [['x', scaleX(this.figure!, layer.panel), fromX(f, this.hit!.x)], ['y', scaleY(this.figure!, layer.panel), fromY(f, this.hit!.y)]] as const) {
      const level = scale.kind === 'groups' ? scale.levels?.[Math.round(valueAt(scale, at))] : undefined
      if (level !== undefined) this.options.onPressGroup(axis, level)
    }
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

  /** Zooms about a place on the canvas, or the middle of the first panel. */
  zoom(factor: number, x?: number, y?: number): void {
    const f = this.frames.find((f) => x !== undefined && inside(f, x, y!)) ?? this.frames[0]
    if (!f) return
    this.setView(zoomed(this.view, factor, fromX(f, x ?? f.left + f.width / 2), fromY(f, y ?? f.top + f.height / 2)))
  }

  private setView(view: View): void {
    if (!allowed(view)) return
    this.view = view
    this.hideCard()
    this.schedule()
  }

  /** Emphasises a mark and shows its card; none takes both away. */
  private lookAt(hit: Hit | null, sameX: number | null = null): void {
    const same = hit && this.hit && hit.layer === this.hit.layer && hit.i === this.hit.i
    const layer = hit && this.figure!.layers[hit.layer]
    this.hit = hit
    this.paintOver(sameX)
    if (!hit || !layer) {
      this.showSameX(sameX)
      return
    }
    if (same && !this.card.hidden && layer.primitive === 'points') return
    const carried = layer.rows ? (pointCard(this.figure!, layer, hit.i) ?? this.rowCards.get(`${hit.layer}:${hit.i}`)) : ownCard(layer, hit.i)
    if (carried) this.showCard(carried, hit)
    else {
      this.card.hide()
      if (layer.rows) this.askForRow(layer, hit)
    }
  }

  /** Of panels, and of lines alone: what the lines say at the place along x that is pointed at. */
  private showSameX(u: number | null): void {
    const figure = this.figure!
    const frame = u === null ? undefined : this.frames.find((f) => inside(f, this.pointer[0], this.pointer[1]))
    const panels = frame && compareCard(figure, this.frames.indexOf(frame), u!, (layer) => shown(layer, this.selection))
    const free = panels && freeCell(this.frames)
    if (free) return this.card.showAt(panels, free.left, free.top, this.width, this.height)
    const told = panels ?? (frame && (figure.panels.length > 1 || pointCount(figure) === 0) ? sameXCard(figure, this.frames.indexOf(frame), u!, (layer) => shown(layer, this.selection)) : null)
    if (told) this.card.show(told, this.pointer[0], this.pointer[1], 16, this.width, this.height)
    else this.card.hide()
  }

  private askForRow(layer: Layer, hit: Hit): void {
    const figure = this.figure!
    void this.options.rowValues?.(rowFinder(layer)(hit.i)).then((values) => {
      const text = rowCard(figure, values)
      this.rowCards.set(`${hit.layer}:${hit.i}`, text)
      if (this.hit?.i === hit.i && this.hit.layer === hit.layer && this.figure === figure) this.showCard(text, hit)
    })
  }

  private showCard(text: CardText, hit: Hit): void {
    this.card.show(text, hit.x, hit.y, hit.radius + 12, this.width, this.height)
  }

  private hideCard(): void {
    this.card.hide()
    this.hit = null
    this.paintOver()
  }

  /** Arrow keys walk from mark to mark: sideways along x, up and down along y. */
  private key(e: KeyboardEvent): void {
    if (!this.figure || e.ctrlKey || e.metaKey || e.altKey) return
    const walks: Record<string, [Along, 1 | -1]> = { ArrowRight: ['x', 1], ArrowLeft: ['x', -1], ArrowUp: ['y', 1], ArrowDown: ['y', -1] }
    if (walks[e.key]) this.step(...walks[e.key])
    else if (e.key === '+' || e.key === '=') this.zoom(1 / 1.5)
    else if (e.key === '-') this.zoom(1.5)
    else if (e.key === '0') this.reset()
    else if (e.key === 'Escape' && (this.hit || this.selection)) {
      this.hideCard()
      this.isolate(null)
    } else return
    e.preventDefault()
    e.stopPropagation()
  }

  private step(along: Along, by: 1 | -1): void {
    const figure = this.figure!
    this.walk ??= new Walk(figure, this.selection)
    const stop = this.walk.step(this.hit, along, by)
    if (!stop) return
    const layer = figure.layers[stop.layer]
    const f = this.frames[layer.panel]
    const at = layer.start ? layer.start[stop.i] : stop.i
    const hit = pointHit({ ...layer, radius: layer.primitive === 'points' ? layer.radius : undefined }, stop.layer, f, at)
    this.lookAt({ ...hit, i: stop.i })
    this.spoken.textContent = this.card.text
  }
}

/** How far from the end of an axis, in pixels, it can be taken hold of. */
const END_REACH = 30

/** A limit with three digits of the axis's length, or the start of a day. */
function roundedTo(v: number, scale: ReturnType<typeof scaleX>): number {
  if (scale.kind === 'date') return Math.round(v / 86400) * 86400
  if (scale.kind === 'log') return Number(v.toPrecision(3))
  const unit = 10 ** (Math.floor(Math.log10(Math.abs(scale.to - scale.from))) - 2)
  return Number((Math.round(v / unit) * unit).toPrecision(12))
}

/** What the axes of a figure are, as one text. */
const axesOf = (figure: Figure) => figure.panels.map((_, i) => [scaleX(figure, i), scaleY(figure, i)].map((s) => [s.column, s.kind, s.from, s.to].join()).join(';')).join('|')
