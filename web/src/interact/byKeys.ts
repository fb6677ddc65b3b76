/** The chart by keys: walking from mark to mark, moving what is seen, keeping cards, choosing rows. */
import type { Figure, Layer, Selection } from '../figure/figure'
import type { Frame, View } from '../painter/geometry'
import { rowsInside } from './choose'
import { beginOf, markHit, type Hit } from './hit'
import { kindsOf, walkOf, type Along } from './walk'
import { panned } from './zoom'

/** What the keys see of the chart, and what they can do to it. */
export interface Chart {
  figure(): Figure | null
  selection(): Selection | null
  hit(): Hit | null
  view(): View
  frames(): Frame[]
  look(view: View): void
  zoom(factor: number, at: Hit | null): void
  reset(): void
  point(hit: Hit): void
  /** Presses the mark that is pointed at, as a hand would. */
  press(): void
  choose?: (rows: number[]) => void
  /** Leaves what is pointed at, kept and shown alone; false where there is nothing to leave. */
  leave(): boolean
  say(words: string): void
  /** What the card of the mark says. */
  told(): string
}

/** How much of what is seen one press moves. */
const PAN = 0.2
/** How far from the edge of what is seen a mark stands that was walked to, as a share. */
const INSIDE = 0.05

/** What the keys do, for whoever asks; the chart is described by it. */
export const KEYS_SAID =
  'Arrow keys walk from mark to mark, Home and End to the first and last, Page Up and Page Down to another kind of mark; plus and minus zoom, ' +
  'zero shows all, Shift with arrows moves what is seen; Enter presses the mark and keeps its card; B twice chooses the rows between two marks, ' +
  'A all that are seen; Escape leaves.'

const WALKS: Record<string, [Along, 1 | -1]> = { ArrowRight: ['x', 1], ArrowLeft: ['x', -1], ArrowUp: ['y', 1], ArrowDown: ['y', -1] }

export class ByKeys {
  private kind = 0
  /** The first corner of a box of rows that is being chosen. */
  private corner: Hit | null = null

  constructor(private readonly chart: Chart) {}

  /** Does what a key says; false where it says nothing here. */
  press(e: KeyboardEvent): boolean {
    const { chart } = this
    const figure = chart.figure()
    if (!figure || e.ctrlKey || e.metaKey || e.altKey) return false
    const walk = WALKS[e.key]
    if (walk && e.shiftKey) return this.pan(...walk)
    if (walk) return this.step(figure, ...walk)
    switch (e.key) {
      case 'Home':
        return this.step(figure, 'x', 1, null)
      case 'End':
        return this.step(figure, 'x', -1, null)
      case 'PageDown':
        return this.turn(figure, 1)
      case 'PageUp':
        return this.turn(figure, -1)
      case '+':
      case '=':
        chart.zoom(1 / 1.5, chart.hit())
        return true
      case '-':
        chart.zoom(1.5, chart.hit())
        return true
      case '0':
        chart.reset()
        return true
      case 'Enter':
        if (!chart.hit()) return false
        chart.press()
        chart.say(`Kept. ${chart.told()}`)
        return true
      case 'b':
      case 'B':
        return this.box(figure)
      case 'a':
      case 'A':
        return this.all(figure)
      case 'Escape':
        this.corner = null
        return chart.leave()
    }
    return false
  }

  private pan(along: Along, by: 1 | -1): boolean {
    const { u0, u1, v0, v1 } = this.chart.view()
    this.chart.look(along === 'x' ? panned(this.chart.view(), by * PAN * (u1 - u0), 0) : panned(this.chart.view(), 0, by * PAN * (v1 - v0)))
    return true
  }

  /** Another kind of mark: rows, fits, bands. */
  private turn(figure: Figure, by: 1 | -1): boolean {
    const kinds = kindsOf(figure)
    if (kinds.length === 0) return false
    this.kind = (this.kind + by + kinds.length) % kinds.length
    this.step(figure, 'x', 1, null, `${kinds[this.kind].name}: `)
    return true
  }

  private step(figure: Figure, along: Along, by: 1 | -1, from: Hit | null = this.chart.hit(), before = ''): boolean {
    const { chart } = this
    const kinds = kindsOf(figure)
    const kind = kinds[Math.min(this.kind, kinds.length - 1)]
    const stop = kind && walkOf(figure, chart.selection(), kind).step(from, along, by)
    if (!stop) return false
    const layer = figure.layers[stop.layer]
    this.follow(layer, beginOf(layer, stop.i))
    chart.point(markHit(figure, chart.frames(), stop.layer, stop.i))
    chart.say(before + chart.told())
    return true
  }

  /** Moves what is seen until a mark stands in it. */
  private follow(layer: Layer, at: number): void {
    const { u0, u1, v0, v1 } = this.chart.view()
    const by = (place: number, low: number, high: number) => {
      const room = INSIDE * (high - low)
      return place < low ? place - low - room : place > high ? place - high + room : 0
    }
    const [du, dv] = [by(layer.x![at], u0, u1), by(layer.y![at], v0, v1)]
    if (du !== 0 || dv !== 0) this.chart.look(panned(this.chart.view(), du, dv))
  }

  /** The first corner of a box, then the rows between it and the second. */
  private box(figure: Figure): boolean {
    const { chart, corner } = this
    const hit = chart.hit()
    if (!hit || !chart.choose) return false
    if (!corner) {
      this.corner = hit
      chart.say('One corner is here. Walk to the other and press B again.')
      return true
    }
    this.corner = null
    const place = ({ layer, i }: Hit) => {
      const { x, y } = markHit(figure, chart.frames(), layer, i)
      return [x, y]
    }
    const [[x0, y0], [x1, y1]] = [place(corner), place(hit)]
    const [left, right, top, bottom] = [Math.min(x0, x1) - 1, Math.max(x0, x1) + 1, Math.min(y0, y1) - 1, Math.max(y0, y1) + 1]
    return this.chose(
      rowsInside(figure, chart.frames(), chart.selection(), [
        [left, top],
        [right, top],
        [right, bottom],
        [left, bottom],
      ]),
    )
  }

  /** All rows that are seen: of the part that is looked at, and of the groups that are shown. */
  private all(figure: Figure): boolean {
    if (!this.chart.choose) return false
    const frames = this.chart.frames()
    const rows = frames.flatMap((f) =>
      rowsInside(figure, frames, this.chart.selection(), [
        [f.left - 1, f.top - 1],
        [f.left + f.width + 1, f.top - 1],
        [f.left + f.width + 1, f.top + f.height + 1],
        [f.left - 1, f.top + f.height + 1],
      ]),
    )
    return this.chose([...new Set(rows)])
  }

  private chose(rows: number[]): boolean {
    this.chart.choose!(rows)
    this.chart.say(rows.length === 1 ? '1 row chosen' : `${rows.length} rows chosen`)
    return true
  }
}
