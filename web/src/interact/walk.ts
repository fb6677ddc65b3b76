/** Walking from mark to mark with the arrow keys. */
import type { Figure, Selection } from '../figure/figure'
import { shown } from '../painter/selection'
import { beginOf } from './hit'

export type Along = 'x' | 'y'

interface Stop {
  layer: number
  i: number
}

/** Marks of one kind that are walked together, and what they are called. */
export interface Kind {
  name: string
  layers: number[]
}

/** What marks are called where the name of their layer is no word of the trade. */
const CALLED: Record<string, string> = {
  fit: 'fits',
  reference: 'reference lines',
  interval: 'intervals',
  centres: 'centres',
  edges: 'edges',
}

/** The kinds of marks that can be walked: rows, or what a mark of the rows has a card for; then lines, bands and what else has one. */
export function kindsOf(figure: Figure): Kind[] {
  const rows = figure.layers.flatMap((l, at) => (l.rows ? [at] : []))
  const told = figure.layers.flatMap((l, at) => (!l.rows && l.cards?.length === l.count && l.count > 0 ? [at] : []))
  const solid = told.filter((at) => ['rects', 'points'].includes(figure.layers[at].primitive))
  const first =
    rows.length > 0 ? rows : solid.length > 0 ? solid.filter((at) => figure.layers[at].mark === figure.layers[solid[0]].mark) : []
  const kinds: Kind[] = first.length > 0 ? [{ name: rows.length > 0 ? 'rows' : figure.layers[first[0]].mark, layers: first }] : []
  for (const at of told) {
    if (first.includes(at)) continue
    const { mark } = figure.layers[at]
    const name = CALLED[mark] ?? mark
    const known = kinds.slice(first.length > 0 ? 1 : 0).find((k) => k.name === name)
    if (known) known.layers.push(at)
    else kinds.push({ name, layers: [at] })
  }
  return kinds
}

/** The marks of a kind in the order of x and of y. */
export class Walk {
  private readonly layers: Uint8Array
  private readonly items: Uint32Array
  private readonly orders: Partial<Record<Along, Uint32Array>> = {}

  constructor(
    private readonly figure: Figure,
    selection: Selection | null,
    layers: number[],
  ) {
    const [which, what]: [number[], number[]] = [[], []]
    for (const at of layers) {
      const visible = shown(figure.layers[at], selection)
      for (let i = 0; i < figure.layers[at].count; i++)
        if (visible(i)) {
          which.push(at)
          what.push(i)
        }
    }
    this.layers = Uint8Array.from(which)
    this.items = Uint32Array.from(what)
  }

  private place(along: Along, k: number): number {
    const layer = this.figure.layers[this.layers[k]]
    const i = beginOf(layer, this.items[k])
    return (along === 'x' ? layer.x! : layer.y!)[i]
  }

  private order(along: Along): Uint32Array {
    const known = this.orders[along]
    if (known) return known
    const places = Float64Array.from(this.items, (_, k) => this.place(along, k))
    return (this.orders[along] = Uint32Array.from(this.items, (_, k) => k).sort((a, b) => places[a] - places[b] || a - b))
  }

  /** The stop after (or before) one, or the first; null where there is none. */
  step(from: Stop | null, along: Along, by: 1 | -1): Stop | null {
    const order = this.order(along)
    if (order.length === 0) return null
    const at = from ? order.findIndex((k) => this.layers[k] === from.layer && this.items[k] === from.i) : by > 0 ? -1 : order.length
    const k = order[Math.min(order.length - 1, Math.max(0, at + by))]
    return { layer: this.layers[k], i: this.items[k] }
  }
}

const walks = new WeakMap<Figure, { selection: Selection | null; of: Map<string, Walk> }>()

/** The walk through a kind of marks of a figure; the same one while it is looked at as before. */
export function walkOf(figure: Figure, selection: Selection | null, kind: Kind): Walk {
  let known = walks.get(figure)
  if (!known || known.selection !== selection) walks.set(figure, (known = { selection, of: new Map() }))
  let walk = known.of.get(kind.name)
  if (!walk) known.of.set(kind.name, (walk = new Walk(figure, selection, kind.layers)))
  return walk
}
