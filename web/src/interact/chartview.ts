/**
 * A live chart in an element: paints a figure, and answers pointer, wheel and
 * keys. It knows no framework; the application, shared pages and embeds use it
 * alike.
 */
import { inInk } from '../figure/ink'
import { pictureCount, pointCount, rowFinder, type Figure, type Selection, type Shown } from '../figure/figure'
import { fromX, fromY, isWhole, WHOLE, type Frame, type View } from '../painter/geometry'
import { Pictures } from '../painter/dots/pictures'
import { paintFigure } from '../painter/painter'
import { shown } from '../painter/selection'
import { INK, themeNow, whenThemeTurns } from '../painter/theme'
import { dragEnd, groupsOf, limitsOf, limitsOfView } from './axes'
import { Cards } from './cards'
import { rowsInside } from './choose'
import { Drag, type Dragged } from './drag'
import { paintBeside, paintEmphasis, paintSameX, paintShown } from './emphasis'
import { makeGrids } from './grid'
import { hitAt, markHit, type Hit } from './hit'
import { Fingers, type Pinch } from './fingers'
import { Overview } from './overview'
import { Ground, pictureAt } from './ground'
import { EMPTY_HAND, next, NOTHING_YET, sameSelection, stale, type Happening } from './seen'
import { eased, onTheWay, SLIDE } from './slide'
import { Pins } from './pins'
import { Steps } from './steps'
import { listen, type Ears } from './listen'
import type { Standing } from './noted'
import { addTools, Tools } from './tools'
import type { ChartOptions } from './options'
import { Voice } from './voice'
import { ByKeys, KEYS_SAID, type Chart as ChartOfKeys } from './byKeys'
import { panned, wider, zoomed } from './zoom'

const REACH = 18
/** How long after a picture what a hand will need is made, in milliseconds. */
const PREPARE_AFTER = 250

/** How many charts there are on the page, for names of their own. */
let charts = 0

/** Whether less motion is preferred. */
const calm = () => matchMedia('(prefers-reduced-motion: reduce)').matches

export class ChartView {
  private readonly base = document.createElement('canvas')
  private readonly over = document.createElement('canvas')
  private readonly voice = new Voice()
  private readonly crowded = document.createElement('div')
  private readonly helped = Object.assign(document.createElement('p'), { id: `lark-keys-${++charts}` })
  private readonly tools = new Tools()
  private readonly cards: Cards
  private readonly pins: Pins
  private readonly fingers = new Fingers()
  private readonly steps = new Steps((figure) => this.showNow(figure))
  private readonly overview = new Overview((u, v) => {
    const { u0, u1, v0, v1 } = this.seen.view
    this.look({ u0: u - (u1 - u0) / 2, u1: u + (u1 - u0) / 2, v0: v - (v1 - v0) / 2, v1: v + (v1 - v0) / 2 })
  })
  private readonly pictures = new Pictures({ moved: () => void (this.host.dataset.sharp = 'no'), sharp: () => this.schedule() })
  private readonly resizes: ResizeObserver
  private readonly stop = new AbortController()
  /** What is seen, and what a hand does; all else follows from it. */
  private seen = NOTHING_YET
  /** Where panels stand since the last paint, and how large the paper was. */
  private frames: Frame[] = []
  private size = { width: 0, height: 0 }
  private theme = themeNow()
  private inked = false
  private painting = 0
  private preparing = 0
  private readonly byKeys: ByKeys
  private readonly dragged: Dragged = {
    hideCard: () => this.happen({ kind: 'left' }),
    overlay: () => this.overlay(),
    theme: () => this.theme,
    setView: (view) => this.look(view),
    choose: (outline) => {
      this.tools.isChoosing = false
      const { figure, selection } = this.seen
      if (figure) this.options.onChoose?.(rowsInside(figure, this.frames, selection, outline))
    },
  }

  constructor(
    private readonly host: HTMLElement,
    private readonly options: ChartOptions = {},
  ) {
    host.classList.add('lark-chart')
    this.pins = new Pins(host)
    this.cards = new Cards(options.rowValues)
    if (options.sheet)
      this.cards.box.asSheet({
        walk: (by) => this.byKeys.press(new KeyboardEvent('keydown', { key: by > 0 ? 'ArrowRight' : 'ArrowLeft' })),
        close: () => this.happen({ kind: 'left' }),
      })
    this.over.className = 'lark-over'
    this.over.tabIndex = 0
    // The arrow keys are the chart's own: a screen reader lets them through, and says what they do.
    this.over.setAttribute('role', 'application')
    this.over.setAttribute('aria-roledescription', 'chart')
    this.over.setAttribute('aria-describedby', this.helped.id)
    this.helped.textContent = KEYS_SAID
    this.helped.hidden = true
    this.crowded.className = 'lark-crowded'
    this.crowded.hidden = true
    this.byKeys = new ByKeys(this.chartOfKeys())
    addTools(this.tools, {
      keep: this.options.onKeepView && (() => this.keepView()),
      list: this.options.onRowsHere && (() => this.seen.figure && this.options.onRowsHere!(limitsOfView(this.seen.figure, this.seen.view))),
      chooses: Boolean(this.options.onChoose),
      zoom: (factor) => this.zoom(factor),
      widest: () => {
        const { figure } = this.seen
        this.look((figure && wider(figure)) ?? WHOLE)
      },
      reset: () => this.reset(),
    })
    host.append(
      this.base,
      this.overview.element,
      this.over,
      this.steps.element,
      this.cards.box.element,
      this.tools.element,
      this.crowded,
      this.voice.element,
      this.helped,
    )
    this.listen()
    this.resizes = new ResizeObserver(() => this.resize())
    this.resizes.observe(host)
    this.resize()
    void document.fonts?.load('600 13px "Hanken Grotesk"').then(() => this.schedule())
  }

  private keepView(): void {
    const { figure, view } = this.seen
    if (figure) this.options.onKeepView!(limitsOfView(figure, view))
    this.reset()
  }

  /** Shows a figure, at the step that is looked at; the view stays when the axes are the same as before. */
  show(figure: Figure, summary: string): void {
    this.over.setAttribute('aria-label', summary)
    this.showNow(this.steps.take(figure))
  }

  private showNow(figure: Figure): void {
    if (this.seen.figure !== figure) this.pins.clear()
    this.cards.forget()
    this.happen({ kind: 'figure', figure, calm: calm(), now: performance.now() })
    if (!this.resize()) this.paint()
  }

  /** Looks at entries of a key alone; null shows all. */
  isolate(selection: Selection | null): void {
    this.happen({ kind: 'alone', selection })
  }

  /** Stands the rows of a chart that has a column taken out at a share of the way from where they were measured. */
  moveTo(share: number): void {
    this.happen({ kind: 'way', share })
  }

  /** Lights what a sentence speaks of; null puts it out. */
  light(speaks: Shown | null): void {
    this.happen({ kind: 'lit', speaks })
  }

  /** Rings a row that is pointed at in a chart beside this one; null: none. */
  beside(row: number | null): void {
    this.happen({ kind: 'beside', row })
  }

  /** Paints at once what is seen: in ink for a printer, or in the theme of now. */
  now(inked: boolean): void {
    this.inked = inked
    this.theme = inked ? INK : themeNow()
    if (!this.resize()) this.paint() // what is printed is as wide as its paper
  }

  get isolated(): Selection | null {
    return this.seen.selection
  }

  reset(): void {
    this.look(WHOLE)
  }

  private look(view: View): void {
    this.happen({ kind: 'view', view })
  }

  destroy(): void {
    this.stop.abort()
    this.resizes.disconnect()
    this.steps.stop()
    cancelAnimationFrame(this.painting)
    clearTimeout(this.preparing)
    this.voice.stop()
    this.host.replaceChildren()
  }

  /** The one way in which what is seen changes: whoever is to know is told, and what is stale is painted. */
  private happen(event: Happening): void {
    const before = this.seen
    const after = (this.seen = next(before, event))
    if (after === before) return
    if (!after.hit && after.sameX === null) this.cards.hide()
    if (!sameSelection(after.selection, before.selection)) this.options.onIsolate?.(after.selection)
    if (after.deep && !before.deep) this.options.onDeep?.()
    if (after.hit !== before.hit) this.tellRow(after)
    this.voice.tell(before, after)
    const what = stale(before, after)
    if (what === 'all') this.schedule()
    if (what) this.paintOver()
  }

  private told: number | null = null

  /** Tells whoever shows charts beside this one which row is pointed at. */
  private tellRow({ figure, hit }: typeof this.seen): void {
    const layer = figure && hit ? figure.layers[hit.layer] : undefined
    const row = layer?.rows && layer.primitive === 'points' ? rowFinder(layer)(hit!.i) : null
    if (row !== this.told) this.options.onRow?.((this.told = row))
  }

  private listen(): void {
    const { signal } = this.stop
    const ears: Ears = {
      moved: (e) => this.pointerMoved(e),
      down: (e) => this.pointerDown(e),
      up: (e) => this.pointerUp(e),
      left: (e) => {
        // A finger that is lifted leaves too: what it touched stays.
        if (e.pointerType !== 'touch' && this.seen.hand.holds !== 'drag') this.happen({ kind: 'left' })
      },
      cancelled: (e) => {
        this.fingers.up(e.pointerId)
        this.letGo()
      },
      reset: () => this.reset(),
      wheel: (e) => this.wheel(e),
      key: (e) => this.byKeys.press(e),
      blurred: (e) => {
        if (!this.cards.box.element.contains(e.relatedTarget as Node | null)) this.happen({ kind: 'left' })
      },
      singleKeys: this.options.singleKeys,
    }
    listen(this.over, ears, signal)
    signal.addEventListener(
      'abort',
      whenThemeTurns(() => ((this.theme = themeNow()), this.schedule())),
    )
  }

  /** Takes the size that the host has now, and paints where it is another. */
  private resize(): boolean {
    const { clientWidth: width, clientHeight: height } = this.host
    if (this.size.width === width && this.size.height === height) return false
    this.size = { width, height }
    this.cards.resize(width, height)
    const ratio = devicePixelRatio || 1
    for (const canvas of [this.base, this.over]) {
      canvas.width = Math.round(width * ratio)
      canvas.height = Math.round(height * ratio)
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
    const { width, height } = this.size
    const { figure, view, selection } = this.seen
    const c = this.base.getContext('2d')
    if (!figure || !c || width === 0) return
    const begun = performance.now()
    this.host.dataset.sharp = 'yes'
    this.frames = paintFigure(c, this.figureNow(figure, begun), width, height, view, {
      theme: this.theme,
      selection,
      pixelRatio: devicePixelRatio || 1,
      pictures: this.pictures,
      unseated: (words) => {
        this.crowded.hidden = words === 0
        this.crowded.textContent = words === 1 ? 'no room for 1 label here' : `no room for ${words} labels here`
      },
    })
    this.tools.zoomed = !isWhole(view)
    this.tools.limited = wider(figure) !== null
    this.over.style.touchAction = isWhole(view) ? 'pan-y' : 'none'
    this.steps.place(this.frames[0])
    this.pins.place(this.frames, width, height)
    this.overview.show(figure, this.frames[0], view, this.theme)
    if (isWhole(view)) this.prepareSoon(figure)
    const { dataset } = this.host
    dataset.paintMs = (performance.now() - begun).toFixed(1)
    dataset.paints = String(Number(dataset.paints ?? 0) + 1)
    dataset.painted = String(pointCount(figure) || figure.layers.reduce((sum, l) => sum + (l.x?.length ?? 0), 0))
    this.paintOver()
    this.options.onPainted?.()
  }

  /** Makes what the first move of a hand needs, when the page has a moment: the picture in the corner, and what one of many dots is looked up by. */
  private prepareSoon(figure: Figure): void {
    clearTimeout(this.preparing)
    const grids = makeGrids(figure.layers)
    const go = () => {
      if (!grids.next().done) this.preparing = window.setTimeout(go)
    }
    this.preparing = window.setTimeout(() => {
      this.overview.prepare(figure, this.frames[0], this.theme)
      go()
    }, PREPARE_AFTER)
  }

  /** The figure, or what it looks like on its way from the one before. */
  private figureNow(figure: Figure, now: number): Figure {
    const { slide, way } = this.seen
    const share = slide ? (now - slide.begun) / SLIDE : 1
    if (slide && share < 1) {
      this.schedule()
      return slide.at(eased(share))
    }
    if (slide) this.seen = next(this.seen, { kind: 'arrived' }) // what is painted now is what there is
    return onTheWay(this.inked ? inInk(figure) : figure, way)
  }

  private overlay(): CanvasRenderingContext2D {
    const c = this.over.getContext('2d')!
    const ratio = devicePixelRatio || 1
    c.setTransform(ratio, 0, 0, ratio, 0, 0)
    c.clearRect(0, 0, this.size.width, this.size.height)
    return c
  }

  private paintOver(): void {
    const c = this.overlay()
    const { figure, selection, sameX, hit, lit, beside } = this.seen
    if (!figure || this.frames.length === 0) return
    if (sameX !== null && (pictureCount(figure) > 1 || (pointCount(figure) === 0 && !hit)))
      paintSameX(c, figure, this.frames, selection, sameX, this.theme)
    if (lit) paintShown(c, figure, this.frames, lit, this.theme)
    if (beside !== null) paintBeside(c, figure, this.frames, beside, this.theme)
    if (hit) paintEmphasis(c, figure, this.frames, hit, this.theme)
  }

  /** Leaves what is pointed at: something else is looked at. */
  leave(): void {
    this.happen({ kind: 'left' })
  }

  /** What is seen now, for whoever stands something over it; null before there is a figure. */
  standing(): Standing | null {
    const { figure, hit, selection } = this.seen
    return figure && this.frames.length > 0 ? { figure, frames: this.frames, size: this.size, hit, selection } : null
  }

  private place(e: MouseEvent): [number, number] {
    const box = this.over.getBoundingClientRect()
    return [e.clientX - box.left, e.clientY - box.top]
  }

  /** What stands where, for a hand that comes. */
  private ground(figure: Figure): Ground {
    const { hit, view } = this.seen
    return new Ground(this.over.getContext('2d')!, figure, this.frames, this.theme, this.size, this.options, hit, isWhole(view))
  }

  private pointerMoved(e: PointerEvent): void {
    const { figure, hand } = this.seen
    if (!figure) return
    const [x, y] = this.place(e)
    this.happen({ kind: 'pointer', x, y })
    const pinch = this.fingers.move(e.pointerId, x, y)
    if (pinch) {
      if (hand.holds === 'drag') this.happen({ kind: 'hand', hand: EMPTY_HAND })
      return this.pinched(figure, pinch)
    }
    if (hand.holds === 'drag') return hand.drag.to(x, y, this.dragged)
    if (hand.holds === 'end') {
      this.happen({ kind: 'left' })
      return dragEnd(this.overlay(), hand.end, x, y, this.theme)
    }
    this.pointAt(figure, x, y)
    this.over.style.cursor = this.ground(figure).cursorAt(x, y)
  }

  /** Emphasises what stands at a place, and shows its card. */
  private pointAt(figure: Figure, x: number, y: number): void {
    const f = pictureAt(figure, this.frames, x, y)
    this.lookAt(figure, hitAt(figure, this.frames, this.seen.selection, x, y, REACH), f ? fromX(f, x) : null)
  }

  private pinched(figure: Figure, { factor, x, y, dx, dy }: Pinch): void {
    this.zoom(factor, x, y)
    const { view } = this.seen
    const f = pictureAt(figure, this.frames, x, y)
    if (f) this.look(panned(view, -(dx / f.width) * (view.u1 - view.u0), (dy / f.height) * (view.v1 - view.v0)))
  }

  private pointerDown(e: PointerEvent): void {
    const { figure, selection } = this.seen
    if (!figure || e.button !== 0) return
    const [x, y] = this.place(e)
    const touch = e.pointerType === 'touch'
    if (touch) this.fingers.down(e.pointerId, x, y)
    if (this.fingers.count > 1) return
    const frame = pictureAt(figure, this.frames, x, y)
    const ground = this.ground(figure)
    if (this.tools.isChoosing) return this.beginDrag(e, 'choose', frame ?? this.frames[0], x, y) // an outline may begin anywhere
    const label = ground.labelAt(x, y)
    if (label) return this.isolate(sameSelection(label, selection) ? null : label)
    const end = ground.endAt(x, y)
    if (end) {
      this.over.setPointerCapture(e.pointerId)
      return this.happen({ kind: 'hand', hand: { holds: 'end', end } })
    }
    const slot = ground.wordAt(x, y)
    if (slot) this.happen({ kind: 'hand', hand: { holds: 'word', slot } })
    else if (frame) this.beginDrag(e, e.shiftKey || touch ? 'pan' : 'zoom', frame, x, y)
  }

  private beginDrag(e: PointerEvent, kind: ConstructorParameters<typeof Drag>[0], frame: Frame, x: number, y: number): void {
    this.over.setPointerCapture(e.pointerId)
    this.happen({ kind: 'hand', hand: { holds: 'drag', drag: new Drag(kind, frame, [x, y], this.seen.view) } })
  }

  private letGo(): void {
    this.happen({ kind: 'hand', hand: EMPTY_HAND })
  }

  private pointerUp(e: PointerEvent): void {
    this.fingers.up(e.pointerId)
    const { figure, hand } = this.seen
    this.letGo()
    if (!figure) return
    const [x, y] = this.place(e)
    switch (hand.holds) {
      case 'end': {
        const limits = limitsOf(figure, this.frames, hand.end)
        if (limits) this.options.onDragAxis?.(hand.end.axis, ...limits)
        else this.options.onPressWord?.(`limits-${hand.end.axis}`)
        return
      }
      case 'word':
        // Only when the press is over, focus and all, its words open: else they would lose it and close at once.
        if (this.ground(figure).wordAt(x, y) === hand.slot) this.options.onPressWord?.(hand.slot)
        return
      case 'drag':
        if (hand.drag.moved) return hand.drag.end(x, y, this.dragged)
        if (e.pointerType === 'touch')
          this.pointAt(figure, x, y) // a tap shows; it presses nothing
        else this.pressedMark(figure)
    }
  }

  /** Tells the row, or the group along an axis, that the mark that is pointed at stands for. */
  private pressedMark(figure: Figure, byKey = false): void {
    const { hit } = this.seen
    if (!hit) return
    const layer = figure.layers[hit.layer]
    const { width, height } = this.size
    if (layer.says && !byKey && this.options.onPressWord) return this.options.onPressWord(layer.says)
    if (this.cards.told) {
      const f = this.frames[layer.panel]
      const at = { panel: layer.panel, u: fromX(f, hit.x), v: fromY(f, hit.y), radius: hit.radius }
      this.pins.toggle(`${hit.layer}:${hit.i}`, this.cards.told, at, this.frames, width, height)
    }
    if (layer.rows && layer.primitive === 'points') this.options.onPressRow?.(rowFinder(layer)(hit.i))
    if (layer.rows || !this.options.onPressGroup) return
    for (const [axis, group] of groupsOf(figure, layer.panel, this.frames[layer.panel], hit)) this.options.onPressGroup(axis, group)
  }

  private wheel(e: WheelEvent): void {
    if (!this.seen.figure) return
    e.preventDefault()
    const [x, y] = this.place(e)
    this.zoom(Math.exp(Math.max(-1, Math.min(1, e.deltaY / 400))), x, y)
  }

  /** Zooms about a place on the canvas, or the middle of the first panel. */
  zoom(factor: number, x?: number, y?: number): void {
    const { figure, view } = this.seen
    const f = (figure && x !== undefined && y !== undefined && pictureAt(figure, this.frames, x, y)) || this.frames[0]
    if (!f) return
    this.look(zoomed(view, factor, fromX(f, x ?? f.left + f.width / 2), fromY(f, y ?? f.top + f.height / 2)))
  }

  /** Emphasises a mark and shows its card; of none, what stands at the place along x. */
  private lookAt(figure: Figure, hit: Hit | null, sameX: number | null = null): void {
    const before = this.seen.hit
    const same = hit && before && hit.layer === before.layer && hit.i === before.i
    this.happen({ kind: 'mark', hit, sameX })
    if (!hit) return this.showSameX(figure, sameX)
    if (same && !this.cards.box.hidden && figure.layers[hit.layer].primitive === 'points') return
    this.cards.showMark(figure, hit)
  }

  private showSameX(figure: Figure, u: number | null): void {
    const [x, y] = this.seen.pointer
    const frame = u === null ? undefined : pictureAt(figure, this.frames, x, y)
    if (u === null || !frame) return this.cards.box.hide()
    const visible = (layer: Figure['layers'][0]) => shown(layer, this.seen.selection)
    this.cards.showSameX(figure, { u, panel: this.frames.indexOf(frame), frames: this.frames, visible, x, y })
  }

  /** What the keys see of the chart, and can do to it. */
  private chartOfKeys(): ChartOfKeys {
    return {
      figure: () => this.seen.figure,
      selection: () => this.seen.selection,
      hit: () => this.seen.hit,
      view: () => this.seen.view,
      frames: () => this.frames,
      look: (view) => {
        const { hit } = this.seen
        this.look(view)
        this.paint() // places are asked for at once
        if (hit && this.seen.figure) this.lookAt(this.seen.figure, markHit(this.seen.figure, this.frames, hit.layer, hit.i))
      },
      zoom: (factor, at) => this.zoom(factor, at?.x, at?.y),
      reset: () => this.reset(),
      point: (hit) => this.seen.figure && this.lookAt(this.seen.figure, hit),
      press: () => this.seen.figure && this.pressedMark(this.seen.figure, true),
      choose: this.options.onChoose,
      leave: () => {
        if (!this.seen.hit && !this.seen.selection && !this.pins.some) return false
        this.pins.clear()
        this.happen({ kind: 'left' })
        this.isolate(null)
        return true
      },
      say: (words) => this.voice.say(words),
      told: () => this.cards.box.text,
    }
  }
}
