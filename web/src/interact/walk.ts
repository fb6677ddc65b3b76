/** Walking from mark to mark with the arrow keys. */
import type { Figure, Selection } from '../figure/figure'
import { shown } from '../painter/selection'

export type Along = 'x' | 'y'

interface Stop {
  layer: number
  i: number
}

/** The marks of a figure in the order of x and of y: rows, or what has a card where there are none. */
export class Walk {
  private readonly layers: Uint8Array
  private readonly items: Uint32Array
  private readonly orders: Partial<Record<Along, Uint32Array>> = {}

  constructor(
    private readonly figure: Figure,
    selection: Selection | null,
  ) {
    const rows = figure.layers.some((l) => l.rows)
    const layers: number[] = []
    figure.layers.forEach((l, at) => {
      if (rows ? l.rows : l.cards?.length === l.count && (l.primitive === 'rects' || l.primitive === 'points')) layers.push(at)
    })
    if (layers.length === 0) figure.layers.forEach((l, at) => l.cards?.length && layers.push(at))
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
    const i = layer.start ? layer.start[this.items[k]] : this.items[k]
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

const walks = new WeakMap<Figure, { selection: Selection | null; walk: Walk }>()

/** The walk through a figure; the same one while it is looked at as before. */
export function walkOf(figure: Figure, selection: Selection | null): Walk {
  const known = walks.get(figure)
  if (known && known.selection === selection) return known.walk
  const walk = new Walk(figure, selection)
  walks.set(figure, { selection, walk })
  return walk
}
