/**
 * Between two figures of the same rows marks slide, so that it is seen what a change does
 * to them: taking groups out, another axis, another scale.
 */
import type { Figure, Layer } from '../figure/figure'

/** How long marks slide, in milliseconds, and how many may. */
export const SLIDE = 350
const MOST = 10_000

const PLACES = ['x', 'y', 'x2', 'y2'] as const

/** The figure at a share of the way from one to the other; null where nothing slides. */
export function slideBetween(before: Figure, after: Figure): ((share: number) => Figure) | null {
  if (before.panels.length !== after.panels.length) return null
  if (after.layers.reduce((sum, l) => sum + (l.primitive === 'points' ? l.count : 0), 0) > MOST) return null // before a million of them are compared
  const pairs = after.layers.map((layer) => [layer, partner(before, layer, after)] as const)
  const slides = pairs.filter(([layer, from]) => from && moves(from, layer))
  if (!slides.some(([layer]) => layer.primitive === 'points')) return null
  return (share) => ({ ...after, layers: pairs.map(([layer, from]) => (from ? between(from, layer, share) : layer)) })
}

/** The mark of what stands where rows were measured, while a column is taken out. */
const MEASURED = 'as measured'

/** Whether a figure shows where its rows were measured, so that they can be moved there. */
export const hasMeasured = (figure: Figure): boolean => figure.layers.some((l) => l.mark === MEASURED && l.primitive === 'points')

/**
 * A figure with a column taken out at a share of the way from where its rows were measured:
 * dots on their way, and the line of all rows turning; what only holds at its end is hidden.
 */
export function onTheWay(figure: Figure, share: number): Figure {
  if (share >= 1) return figure
  const of = (panel: number, primitive: Layer['primitive']) =>
    figure.layers.find((l) => l.mark === MEASURED && l.primitive === primitive && l.panel === panel)
  const layers: Layer[] = []
  for (const layer of figure.layers) {
    if (layer.mark === MEASURED || layer.mark === 'reference') {
      layers.push(layer)
    } else if (layer.primitive === 'points' && layer.rows) {
      const from = of(layer.panel, 'points')
      layers.push(from && from.count === layer.count ? between(from, layer, share) : layer)
    } else if (layer.primitive === 'paths' && layer.count === 1 && !layer.keys?.colour) {
      const from = of(layer.panel, 'paths')
      if (from) layers.push(between({ ...layer, x: spread(from.x!, layer.x!.length), y: spread(from.y!, layer.y!.length) }, layer, share))
    }
  }
  return { ...figure, layers }
}

/** A straight stretch from the first to the last of some places, as so many. */
const spread = (ends: ArrayLike<number>, n: number): Float32Array =>
  Float32Array.from({ length: n }, (_, i) => ends[0] + ((ends[ends.length - 1] - ends[0]) * i) / Math.max(n - 1, 1))

/** The layer of the figure before that draws the same things: as many, and of the same rows. */
function partner(before: Figure, layer: Layer, after: Figure): Layer | undefined {
  const alike = (l: Layer) => l.mark === layer.mark && l.primitive === layer.primitive && l.panel === layer.panel
  const nth = after.layers.filter(alike).indexOf(layer)
  const from = before.layers.filter(alike)[nth]
  if (from?.who && layer.who) return followed(from, layer)
  if (!from || from.count !== layer.count || from.x?.length !== layer.x?.length || from.y2?.length !== layer.y2?.length) return undefined
  return sameNumbers(from.row, layer.row) && sameNumbers(from.left_out, layer.left_out) && from.first === layer.first ? from : undefined
}

/** The layer before with the places of those that are followed, in the order of the one after; what was not there stands where it comes. */
function followed(from: Layer, layer: Layer): Layer {
  const places = new Map<number, number>()
  for (let i = from.count - 1; i >= 0; i--) places.set(from.who![i], i)
  const place = (of: 'x' | 'y') =>
    Float32Array.from(layer[of]!, (there, i) => {
      const at = layer.who![i] < 0 ? undefined : places.get(layer.who![i])
      return at === undefined ? there : from[of]![at]
    })
  return { ...layer, x: place('x'), y: place('y') }
}

function sameNumbers(a: Layer['row'], b: Layer['row']): boolean {
  if (a?.length !== b?.length) return false
  return !a || a.every((v, i) => v === b![i])
}

const moves = (from: Layer, to: Layer): boolean => PLACES.some((place) => !sameNumbers(from[place], to[place]))

function between(from: Layer, to: Layer, share: number): Layer {
  const out = { ...to }
  for (const place of PLACES) {
    const [a, b] = [from[place], to[place]]
    if (a && b) out[place] = Float32Array.from(b, (v, i) => a[i] + (v - a[i]) * share)
  }
  return out
}

/** Slowly away and slowly there. */
export const eased = (share: number): number => share * share * (3 - 2 * share)
