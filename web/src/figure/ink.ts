/** A figure for a printer without colours: groups that colours alone tell apart have shapes as well. */
import type { Figure } from './figure'

/** The shapes that groups have, in their order; those of core/primitive/layer.go. */
const SHAPES = ['circle', 'square', 'triangle', 'diamond', 'cross', 'ring', 'bar', 'down']

const known = new WeakMap<Figure, Figure>()

/** The figure as it is printed; it is itself where shapes are said, there are no groups, or more of them than shapes. */
export function inInk(figure: Figure): Figure {
  let inked = known.get(figure)
  if (!inked) known.set(figure, (inked = withShapes(figure)))
  return inked
}

function withShapes(figure: Figure): Figure {
  const shaped = new Set<number>()
  const layers = figure.layers.map((layer) => {
    const at = layer.keys?.colour
    const entries = at ? figure.keys[at - 1].entries : undefined
    if (layer.primitive !== 'points' || !layer.colour || layer.keys?.shape || layer.style.shape || !at || !entries) return layer
    if (entries.length < 2 || entries.length > SHAPES.length) return layer
    shaped.add(at)
    return { ...layer, shape: layer.colour, keys: { ...layer.keys, shape: at } }
  })
  if (shaped.size === 0) return figure
  const keys = figure.keys.map((key, i) =>
    shaped.has(i + 1) ? { ...key, entries: key.entries!.map((entry, k) => ({ ...entry, shape: SHAPES[k] })) } : key,
  )
  return { ...figure, layers, keys }
}
