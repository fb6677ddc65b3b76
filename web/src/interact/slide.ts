/**
 * Between two figures of the same rows marks slide, so that it is seen what a change does
 * to them: taking groups out, another axis, another scale.
 */
import type { Figure, Layer } from '../api/figure'

/** How long marks slide, in milliseconds, and how many may. */
export const SLIDE = 350
const MOST = 10_000

const PLACES = ['x', 'y', 'x2', 'y2'] as const

/** The figure at a share of the way from one to the other; null where nothing slides. */
export function slideBetween(before: Figure, after: Figure): ((share: number) => Figure) | null {
  if (before.panels.length !== after.panels.length) return null
  const pairs = after.layers.map((layer) => [layer, partner(before, layer, after)] as const)
  const slides = pairs.filter(([layer, from]) => from && moves(from, layer))
  const points = slides.filter(([layer]) => layer.primitive === 'points')
  if (points.length === 0 || points.reduce((sum, [layer]) => sum + layer.count, 0) > MOST) return null
  return (share) => ({ ...after, layers: pairs.map(([layer, from]) => (from ? between(from, layer, share) : layer)) })
}

/** The layer of the figure before that draws the same things: as many, and of the same rows. */
function partner(before: Figure, layer: Layer, after: Figure): Layer | undefined {
  const alike = (l: Layer) => l.mark === layer.mark && l.primitive === layer.primitive && l.panel === layer.panel
  const nth = after.layers.filter(alike).indexOf(layer)
  const from = before.layers.filter(alike)[nth]
  if (!from || from.count !== layer.count || from.x?.length !== layer.x?.length || from.y2?.length !== layer.y2?.length) return undefined
  return sameNumbers(from.row, layer.row) && sameNumbers(from.left_out, layer.left_out) && from.first === layer.first ? from : undefined
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
