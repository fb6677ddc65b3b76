/** What a sheet of points is painted from: the points in order, front to back, and how they stand on it. */
import type { Layer, Selection } from '../../figure/figure'
import { paintOrder, type View } from '../geometry'
import { shown } from '../selection'
import { ONE, type Stamps } from './stamps'

/** The points of a layer that are shown, from the one on top to the one below all others. */
export interface Points {
  count: number
  x: Float32Array
  y: Float32Array
  /** Which stamp, and which colour of the palette. */
  stamp: Uint16Array
  entry: Uint8Array
  /** Of each stamp, the shape's entry in its key and the step of its radius, and whether it is the outline of such a point. */
  kinds: { shape: number; step: number; rim?: boolean }[]
}

/** The entry of the palette that outlines have. */
export const RIM = 255

export interface Sheet {
  /** In pixels of the screen: of the whole panel, and the band of rows that is painted. */
  width: number
  height: number
  top: number
  rows: number
  view: View
  /** Red, green and blue of each entry. */
  palette: number[][]
  stamps: Stamps
  /** What each kind of point adds to the depth of a place, in which colour, and the panel in pixels of the page; none: nothing is shaded. */
  shade?: { paint: Float32Array; ink: number[]; width: number; height: number }
}

/** How a position along an axis becomes a pixel. */
export const scales = ({ width, height, view }: Sheet) => ({ scaleX: width / (view.u1 - view.u0), scaleY: height / (view.v1 - view.v0) })

/** How many pixels a row has with those beyond its end: seven at least, by eights. */
export const strideOf = (width: number) => (width + 14) & ~7

/** Colours as they are painted with: of each red, green and blue. */
export const inked = (colours: number[][]) => Int16Array.from(colours.flatMap((c) => [...c.map((v) => Math.round((v / 255) * ONE)), 0]))

/** Puts the points of a layer that are shown in the order in which they are laid: the reverse of that of paint. */
export function pointsOf(layer: Layer, selection: Selection | null): Points {
  const order = paintOrder(layer)
  const visible = shown(layer, selection)
  const { count } = layer
  const outlined = Boolean(layer.style.rim)
  const laid = outlined ? 2 * count : count
  const out: Points = {
    count: 0,
    x: new Float32Array(laid),
    y: new Float32Array(laid),
    stamp: new Uint16Array(laid),
    entry: new Uint8Array(laid),
    kinds: [],
  }
  const stamps = new Int32Array(2 * 16 * 256).fill(-1)
  let n = 0
  const lay = (i: number, kind: number, rim: boolean, entry: number) => {
    if (stamps[kind] < 0) stamps[kind] = out.kinds.push({ shape: (kind >> 8) & 15, step: kind & 255, ...(rim && { rim }) }) - 1
    out.x[n] = layer.x![i]
    out.y[n] = layer.y![i]
    out.stamp[n] = stamps[kind]
    out.entry[n++] = entry
  }
  for (let k = count - 1; k >= 0; k--) {
    const i = order ? order[k] : k
    if (selection && !visible(i)) continue
    const shape = layer.shape ? layer.shape[i] : 0
    const step = layer.radius ? layer.radius[i] : 0
    const kind = (shape & 15) * 256 + step
    if (outlined) lay(i, 4096 + kind, true, RIM) // an outline lies over what it is around
    lay(i, kind, false, layer.colour ? layer.colour[i] : 0)
  }
  out.count = n
  return out
}
