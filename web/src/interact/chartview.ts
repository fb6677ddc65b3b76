/**
 * A live chart in an element: paints a figure, and answers pointer, wheel and
 * keys. It knows no framework; the application, shared pages and embeds use it
 * alike.
 */
import { carried, pictureCount, pointCount, rowFinder, scaleX, scaleY, type Figure, type Selection, type Shown } from '../figure/figure'
import { fromX, fromY, inside, isWhole, WHOLE, type Frame, type View } from '../painter/geometry'
import { paintFigure } from '../painter/painter'
import { shown } from '../painter/selection'
import { themeNow, whenThemeTurns } from '../painter/theme'
import { axisAt, dragEnd, endAt, groupsOf, labelAt, limitsOf, limitsOfView, type AxisEnd, type Limits } from './axes'
import { Cards } from './cards'
import { rowsInside } from './choose'
import { Drag, type Dragged } from './drag'
import { paintEmphasis, paintSameX, paintShown } from './emphasis'
import { makeGrids } from './grid'
import { hitAt, pointHit, type Hit } from './hit'
import { Fingers, type Pinch } from './fingers'
import { Overview } from './overview'
import { eased, onTheWay, SLIDE, slideBetween } from './slide'
import { Pins } from './pins'
import { Steps } from './steps'
import { Tools } from './tools'
import { Walk, type Along } from './walk'
import { allowed, isDeep, panned, zoomed } from './zoom'

export interface ChartOptions {
  /** Gives the text values of a table row, for figures that do not carry them. */
  rowValues?: (row: number) => Promise<Record<string, string>>
  /** Told when entries of a key are looked at alone, or all again. */
  onIsolate?: (selection: Selection | null) => void
  /** Told when something that governs a word is pressed: x or y. */
  onPressAxis?: (axis: 'x' | 'y') => void
  /** Told when a mark that stands for a group along an axis is pressed. */
  onPressGroup?: (axis: 'x' | 'y', group: string) => void
  /** Told when the mark of a row is pressed: where it stands in the table. */
  onPressRow?: (row: number) => void
  /** Told which rows an outline was drawn around. */
  onChoose?: (rows: number[]) => void
  /** Told when the part that is looked at is to be the chart's own: the values at the ends of each axis of numbers or dates. */
  onKeepView?: (limits: { x?: Limits; y?: Limits }) => void
  /** Told, once for a figure, when it is looked at more closely than the places of its dots are exact. */
  onDeep?: () => void
  /** Told when the end of an axis was dragged: the values at its ends now. */
  onDragAxis?: (axis: 'x' | 'y', from: number, to: number) => void
}

const REACH = 18
/** How long after a picture what a hand will need is made, in milliseconds. */
const PREPARE_AFTER = 250

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
  private readonly cards: Cards
  private readonly tools = new Tools()
  private readonly spoken = document.createElement('div')
  private figure: Figure | null = null
  private frames: Frame[] = []
  private pressed: 'x' | 'y' | null = null
  private view: View = WHOLE
  private theme = themeNow()
  private selection: Selection | null = null
  private hit: Hit | null = null
  private lit: Shown | null = null
  private end: AxisEnd | null = null
  private drag: Drag | null = null
  private pointer: [number, number] = [-1, -1]
  private width = 0
  private height = 0
  private painting = 0
  private preparing = 0
  private walk: Walk | null = null
  private sliding: Slide | null = null
  /** The figure of which more was asked. */
  private deep: Figure | null = null
  private way = 1
  private readonly resizes: ResizeObserver
  private readonly stop = new AbortController()
  private readonly fingers = new Fingers()
  private readonly pins: Pins
  private readonly steps = new Steps((figure) => this.showNow(figure))
  private readonly overview = new Overview((u, v) => {
    const { u0, u1, v0, v1 } = this.view
    this.setView({ u0: u - (u1 - u0) / 2, u1: u + (u1 - u0) / 2, v0: v - (v1 - v0) / 2, v1: v + (v1 - v0) / 2 })
  })
  private readonly later = { moved: () => void (this.host.dataset.sharp = 'no'), sharp: () => this.schedule() }
  private readonly dragged: Dragged = {
    hideCard: () => this.hideCard(),
    overlay: () => this.overlay(),
    theme: () => this.theme,
    setView: (view) => this.setView(view),
    choose: (outline) => {
      this.tools.isChoosing = false
      this.options.onChoose!(rowsInside(this.figure!, this.frames, this.selection, outline))
    },
  }

  constructor(
    private readonly host: HTMLElement,
    private readonly options: ChartOptions = {},
  ) {
    host.classList.add('lark-chart')
    this.pins = new Pins(host)
    this.cards = new Cards(options.rowValues)
    this.over.tabIndex = 0
    this.over.setAttribute('role', 'img')
    this.spoken.className = 'lark-spoken'
    this.spoken.setAttribute('role', 'status')
    if (options.onChoose) this.tools.addChoosing()
    if (options.onKeepView)
      this.tools.add('Keep this part as the limits of the axes', 'keep', () => this.keepView()).classList.add('when-zoomed')
    this.tools.add('Zoom in', '+', () => this.zoom(1 / 1.5))
    this.tools.add('Zoom out', '−', () => this.zoom(1.5))
    this.tools.add('Show all', '⤢', () => this.reset())
    host.append(this.base, this.overview.element, this.over, this.steps.element, this.cards.box.element, this.tools.element, this.spoken)
    this.listen()
    this.resizes = new ResizeObserver(() => this.resize())
    this.resizes.observe(host)
    this.resize()
    void document.fonts?.load('600 13px "Hanken Grotesk"').then(() => this.schedule())
  }

  /** Tells the values at the ends of what is seen. */
  private keepView(): void {
    this.options.onKeepView!(limitsOfView(this.figure!, this.view))
    this.reset()
  }

  /** Shows a figure, at the step that is looked at; the view stays when the axes are the same as before. */
  show(figure: Figure, summary: string): void {
    this.over.setAttribute('aria-label', summary)
    this.showNow(this.steps.take(figure))
  }

  private showNow(figure: Figure): void {
    const before = this.figure
    if (!before || axesOf(before) !== axesOf(figure)) this.view = WHOLE
    if (before) this.isolate(carried(this.selection, before, figure))
    if (before !== figure) this.pins.clear()
    this.figure = figure
    this.way = 1
    this.walk = null
    this.cards.forget()
    this.hideCard()
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

  /** Stands the rows of a chart that has a column taken out at a share of the way from where they were measured. */
  moveTo(share: number): void {
    this.way = share
    this.hideCard()
    this.schedule()
  }

  /** Lights what a sentence speaks of; null puts it out. */
  light(speaks: Shown | null): void {
    this.lit = speaks
    this.paintOver()
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
    this.steps.stop()
    cancelAnimationFrame(this.painting)
    clearTimeout(this.preparing)
    this.host.replaceChildren()
  }

  private listen(): void {
    const signal = this.stop.signal
    const on = <K extends keyof HTMLElementEventMap>(kind: K, act: (e: HTMLElementEventMap[K]) => void, passive = true) =>
      this.over.addEventListener(kind, act, { signal, passive })
    on('pointermove', (e) => this.pointerMoved(e))
    on('pointerdown', (e) => this.pointerDown(e))
    on('pointerup', (e) => this.pointerUp(e))
    on('pointerleave', () => !this.drag && this.hideCard())
    on('pointercancel', (e) => {
      this.fingers.up(e.pointerId)
      this.endDrag()
    })
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
    this.cards.resize(this.width, this.height)
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
    const c = this.base.getContext('2d')!
    const begun = performance.now()
    this.host.dataset.sharp = 'yes'
    this.frames = paintFigure(c, this.figureNow(begun), this.width, this.height, this.view, {
      theme: this.theme,
      selection: this.selection,
      pixelRatio: devicePixelRatio || 1,
      later: this.later,
    })
    this.tools.zoomed = !isWhole(this.view)
    this.over.style.touchAction = isWhole(this.view) ? 'pan-y' : 'none'
    this.steps.place(this.frames[0])
    this.pins.place(this.frames, this.width, this.height)
    this.overview.show(this.figure, this.frames[0], this.view, this.theme)
    if (isWhole(this.view)) this.prepareSoon()
    this.host.dataset.paintMs = (performance.now() - begun).toFixed(1)
    this.host.dataset.paints = String(Number(this.host.dataset.paints ?? 0) + 1)
    this.host.dataset.painted = String(points || this.figure.layers.reduce((sum, l) => sum + (l.x?.length ?? 0), 0))
    this.paintOver()
  }

  /** Makes what the first move of a hand needs, when the page has a moment: the picture in the corner, and what one of many dots is looked up by. */
  private prepareSoon(): void {
    clearTimeout(this.preparing)
    const grids = makeGrids(this.figure!.layers)
    const go = () => {
      if (!grids.next().done) this.preparing = window.setTimeout(go)
    }
    this.preparing = window.setTimeout(() => {
      this.overview.prepare(this.figure!, this.frames[0], this.theme)
      go()
    }, PREPARE_AFTER)
  }

  /** The figure, or what it looks like on its way from the one before. */
  private figureNow(now: number): Figure {
    const share = this.sliding ? (now - this.sliding.begun) / SLIDE : 1
    if (!this.sliding || share >= 1) {
      this.sliding = null
      return onTheWay(this.figure!, this.way)
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
    if (sameX !== null && (pictureCount(this.figure) > 1 || (pointCount(this.figure) === 0 && !this.hit)))
      paintSameX(c, this.figure, this.frames, this.selection, sameX, this.theme)
    if (this.lit) paintShown(c, this.figure, this.frames, this.lit, this.theme)
    if (this.hit) paintEmphasis(c, this.figure, this.frames, this.hit, this.theme)
  }

  private place(e: MouseEvent): [number, number] {
    const box = this.over.getBoundingClientRect()
    return [e.clientX - box.left, e.clientY - box.top]
  }

  private labelAt(x: number, y: number): Selection | null {
    return this.figure && labelAt(this.over.getContext('2d')!, this.figure, this.frames, this.theme, x, y)
  }

  private axisAt(x: number, y: number): 'x' | 'y' | null {
    return this.options.onPressAxis && this.figure ? axisAt(this.figure, this.frames, x, y) : null
  }

  private endAt(x: number, y: number): AxisEnd | null {
    return this.options.onDragAxis && isWhole(this.view) ? endAt(this.figure!, this.frames, x, y) : null
  }

  private pointerMoved(e: PointerEvent): void {
    if (!this.figure) return
    const [x, y] = (this.pointer = this.place(e))
    const pinch = this.fingers.move(e.pointerId, x, y)
    if (pinch) {
      this.drag = null
      this.pinched(pinch)
      return
    }
    if (this.drag) {
      this.drag.to(x, y, this.dragged)
      return
    }
    if (this.end) {
      this.hideCard()
      dragEnd(this.overlay(), this.end, x, y, this.theme)
      return
    }
    const end = this.endAt(x, y)
    this.over.style.cursor = end
      ? end.axis === 'x'
        ? 'ew-resize'
        : 'ns-resize'
      : this.labelAt(x, y) || this.axisAt(x, y)
        ? 'pointer'
        : 'crosshair'
    this.pointAt(x, y)
  }

  /** Emphasises what stands at a place, and shows its card. */
  private pointAt(x: number, y: number): void {
    const f = this.pictureAt(x, y)
    this.lookAt(hitAt(this.figure!, this.frames, this.selection, x, y, REACH), f ? fromX(f, x) : null)
  }

  private pinched({ factor, x, y, dx, dy }: Pinch): void {
    this.zoom(factor, x, y)
    const f = this.pictureAt(x, y)
    if (f) this.setView(panned(this.view, -(dx / f.width) * (this.view.u1 - this.view.u0), (dy / f.height) * (this.view.v1 - this.view.v0)))
  }

  /** The panel at a place that shows rows, and not their spread along an edge. */
  private pictureAt(x: number, y: number): Frame | undefined {
    return this.frames.find((f, i) => !this.figure!.panels[i].edge && inside(f, x, y))
  }

  private pointerDown(e: PointerEvent): void {
    if (!this.figure || e.button !== 0) return
    const [x, y] = this.place(e)
    const touch = e.pointerType === 'touch'
    if (touch) this.fingers.down(e.pointerId, x, y)
    if (this.fingers.count > 1) return
    if (this.tools.isChoosing) return this.beginDrag(e, 'choose', this.pictureAt(x, y) ?? this.frames[0], x, y) // an outline may begin anywhere
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
    const frame = this.pictureAt(x, y)
    if (!this.pressed && frame) this.beginDrag(e, e.shiftKey || touch ? 'pan' : 'zoom', frame, x, y)
  }

  private beginDrag(e: PointerEvent, kind: ConstructorParameters<typeof Drag>[0], frame: Frame, x: number, y: number): void {
    this.over.setPointerCapture(e.pointerId)
    this.drag = new Drag(kind, frame, [x, y], this.view)
  }

  private pointerUp(e: PointerEvent): void {
    this.fingers.up(e.pointerId)
    if (this.end) {
      const { end } = this
      const limits = limitsOf(this.figure!, this.frames, end)
      this.end = null
      this.paintOver()
      if (limits) this.options.onDragAxis!(end.axis, ...limits)
      else this.options.onPressAxis?.(end.axis)
      return
    }
    const { drag, pressed } = this
    this.endDrag()
    if (drag && !drag.moved) {
      if (e.pointerType === 'touch')
        this.pointAt(...this.place(e)) // a tap shows; it presses nothing
      else this.pressedMark()
    }
    // Only when the press is over, focus and all, its words open: else they would lose it and close at once.
    if (pressed && this.axisAt(...this.place(e)) === pressed) this.options.onPressAxis!(pressed)
    this.pressed = null
    drag?.end(...this.place(e), this.dragged)
  }

  /** Tells the row, or the group along an axis, that the mark that is pointed at stands for. */
  private pressedMark(): void {
    const layer = this.hit && this.figure!.layers[this.hit.layer]
    if (layer && this.cards.told) {
      const { layer: at, i, x, y, radius } = this.hit!
      const f = this.frames[layer.panel]
      this.pins.toggle(
        `${at}:${i}`,
        this.cards.told,
        { panel: layer.panel, u: fromX(f, x), v: fromY(f, y), radius },
        this.frames,
        this.width,
        this.height,
      )
    }
    if (layer?.rows && layer.primitive === 'points') this.options.onPressRow?.(rowFinder(layer)(this.hit!.i))
    if (!layer || layer.rows || !this.options.onPressGroup) return
    for (const [axis, group] of groupsOf(this.figure!, layer.panel, this.frames[layer.panel], this.hit!))
      this.options.onPressGroup(axis, group)
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
    const f = (x !== undefined && this.pictureAt(x, y!)) || this.frames[0]
    if (!f) return
    this.setView(zoomed(this.view, factor, fromX(f, x ?? f.left + f.width / 2), fromY(f, y ?? f.top + f.height / 2)))
  }

  private setView(view: View): void {
    if (!allowed(view)) return
    this.view = view
    if (this.figure && isDeep(view) && this.deep !== this.figure && this.figure.coarse) {
      this.deep = this.figure
      this.options.onDeep?.()
    }
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
    if (same && !this.cards.box.hidden && layer.primitive === 'points') return
    this.cards.showMark(this.figure!, hit)
  }

  private showSameX(u: number | null): void {
    const [x, y] = this.pointer
    const frame = u === null ? undefined : this.pictureAt(x, y)
    if (frame)
      this.cards.showSameX(this.figure!, {
        u: u!,
        panel: this.frames.indexOf(frame),
        frames: this.frames,
        visible: (layer) => shown(layer, this.selection),
        x,
        y,
      })
    else this.cards.box.hide()
  }

  private hideCard(): void {
    this.cards.hide()
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
    else if (e.key === 'Escape' && (this.hit || this.selection || this.pins.some)) {
      this.pins.clear()
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
    this.spoken.textContent = this.cards.box.text
  }
}

/** What the axes of a figure are, as one text. */
const axesOf = (figure: Figure) =>
  figure.panels
    .map((_, i) => [scaleX(figure, i), scaleY(figure, i)].map((s) => [s.column, s.kind, s.from, s.to].join()).join(';'))
    .join('|')
