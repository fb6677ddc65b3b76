/**
 * What is seen of a chart, and what a hand does on it, as one value. Whatever happens makes the next one out of it; what is
 * to be painted anew follows from the two.
 */
import { carried, scaleX, scaleY, type Figure, type Selection, type Shown } from '../figure/figure'
import { isWhole, WHOLE, type View } from '../painter/geometry'
import type { AxisEnd } from './axes'
import type { Drag } from './drag'
import type { Hit } from './hit'
import { slideBetween } from './slide'
import { allowed, isDeep } from './zoom'

/** What a pressed hand holds: nothing, what a word governs, the end of one, or a part of the picture that it drags over. */
export type Hand = { holds: 'nothing' } | { holds: 'word'; slot: string } | { holds: 'end'; end: AxisEnd } | { holds: 'drag'; drag: Drag }

export interface Seen {
  readonly figure: Figure | null
  readonly view: View
  /** The entries of a key that are looked at alone. */
  readonly selection: Selection | null
  /** The mark that is pointed at, and the place along x where there is none. */
  readonly hit: Hit | null
  readonly sameX: number | null
  /** What a sentence that was pressed speaks of. */
  readonly lit: Shown | null
  /** The row that is pointed at in a chart beside this one. */
  readonly beside: number | null
  /** How far the rows of a chart that has a column taken out went from where they were measured. */
  readonly way: number
  readonly slide: { readonly at: (share: number) => Figure; readonly begun: number } | null
  readonly hand: Hand
  readonly pointer: readonly [x: number, y: number]
  /** Whether more of this figure was asked for, for a close look. */
  readonly deep: boolean
}

export const EMPTY_HAND: Hand = { holds: 'nothing' }

/** What is seen before there is a figure. */
export const NOTHING_YET: Seen = {
  figure: null,
  view: WHOLE,
  selection: null,
  hit: null,
  sameX: null,
  lit: null,
  beside: null,
  way: 1,
  slide: null,
  hand: EMPTY_HAND,
  pointer: [-1, -1],
  deep: false,
}

/** What can happen. */
export type Happening =
  /** Another figure is shown; calm: its marks do not slide there. */
  | { kind: 'figure'; figure: Figure; calm: boolean; now: number }
  | { kind: 'arrived' }
  | { kind: 'view'; view: View }
  | { kind: 'alone'; selection: Selection | null }
  | { kind: 'way'; share: number }
  | { kind: 'lit'; speaks: Shown | null }
  | { kind: 'beside'; row: number | null }
  | { kind: 'pointer'; x: number; y: number }
  | { kind: 'mark'; hit: Hit | null; sameX: number | null }
  | { kind: 'left' }
  | { kind: 'hand'; hand: Hand }

/** Nothing is pointed at. */
const AWAY = { hit: null, sameX: null }

/** What is seen after something happened. */
export function next(seen: Seen, event: Happening): Seen {
  switch (event.kind) {
    case 'figure':
      return shows(seen, event)
    case 'arrived':
      return { ...seen, slide: null }
    case 'view':
      if (!allowed(event.view)) return seen
      return { ...seen, ...AWAY, view: event.view, deep: seen.deep || asksForMore(seen, event.view) }
    case 'alone':
      return sameSelection(event.selection, seen.selection) ? seen : { ...seen, ...AWAY, selection: event.selection }
    case 'way':
      return { ...seen, ...AWAY, way: event.share }
    case 'lit':
      return { ...seen, lit: event.speaks }
    case 'beside':
      return seen.beside === event.row ? seen : { ...seen, beside: event.row }
    case 'pointer':
      return { ...seen, pointer: [event.x, event.y] }
    case 'mark':
      return { ...seen, hit: event.hit, sameX: event.sameX }
    case 'left':
      return { ...seen, ...AWAY }
    case 'hand':
      return { ...seen, hand: event.hand }
  }
}

function shows(seen: Seen, { figure, calm, now }: Extract<Happening, { kind: 'figure' }>): Seen {
  const before = seen.figure
  const view = before && axesOf(before) === axesOf(figure) ? seen.view : WHOLE
  const at = before && before !== figure && isWhole(view) && !calm ? slideBetween(before, figure) : null
  return {
    ...seen,
    ...AWAY,
    figure,
    view,
    selection: before ? carried(seen.selection, before, figure) : seen.selection,
    way: 1,
    slide: at && { at, begun: now },
    deep: seen.deep && before === figure,
  }
}

/** Whether a view is closer than the places of the dots are exact. */
const asksForMore = ({ figure }: Seen, view: View) => figure !== null && isDeep(view) && Boolean(figure.coarse)

/** What is to be painted: all of it, what lies over it, or nothing. */
export function stale(before: Seen, after: Seen): 'all' | 'over' | null {
  const differs = (...parts: (keyof Seen)[]) => parts.some((part) => before[part] !== after[part])
  if (differs('figure', 'view', 'selection', 'way', 'slide')) return 'all'
  return differs('hit', 'sameX', 'lit', 'beside', 'hand') ? 'over' : null
}

export const sameSelection = (a: Selection | null, b: Selection | null) => a?.key === b?.key && a?.entries.join() === b?.entries.join()

/** What the axes of a figure are, as one text. */
const axesOf = (figure: Figure) =>
  figure.panels
    .map((_, i) => [scaleX(figure, i), scaleY(figure, i)].map((s) => [s.column, s.kind, s.from, s.to].join()).join(';'))
    .join('|')
