/**
 * How crowded points are shaded, so that places where they hide each other still tell how many there are. The server
 * says how in core/primitive/shade.go; contract/shade.json holds both equal.
 */
import type { View } from '../geometry'

const CELL = 4
const FROM = 3
const MOST = 0.6
const RANGE = 10
const MOST_OPAQUE = 0.98

/** How strongly each cell of a panel is shaded, from 0 to MOST, row by row from the top. */
export interface Shades {
  columns: number
  rows: number
  values: Float32Array
}

/** What a point of a radius and an opacity adds to the depth of its cell. */
export const paintOf = (radius: number, opacity: number): number => ((-Math.log(1 - Math.min(opacity, MOST_OPAQUE)) * Math.PI) / (CELL * CELL)) * radius * radius

/** The shades of points in a view of a panel of a size in pixels of the page, each with the paint of its kind; null where none is as deep. */
export function shadesOf(points: { count: number; x: ArrayLike<number>; y: ArrayLike<number>; stamp: ArrayLike<number> }, paint: ArrayLike<number>, view: View, width: number, height: number): Shades | null {
  const [columns, rows] = [Math.ceil(width / CELL), Math.ceil(height / CELL)]
  const depths = new Float32Array(Math.max(columns * rows, 0))
  const [scaleX, scaleY] = [width / (view.u1 - view.u0) / CELL, height / (view.v1 - view.v0) / CELL]
  const { count, x, y, stamp } = points
  for (let i = 0; i < count; i++) {
    const column = Math.floor((x[i] - view.u0) * scaleX)
    const row = Math.floor((view.v1 - y[i]) * scaleY)
    if (column >= 0 && row >= 0 && column < columns && row < rows) depths[row * columns + column] += paint[stamp[i]]
  }
  return shaded(depths, columns, rows)
}

function shaded(depths: Float32Array, columns: number, rows: number): Shades | null {
  const values = new Float32Array(depths.length)
  let deepest = 0
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      let sum = 0
      let n = 0
      const top = Math.max(row - 1, 0)
      const bottom = Math.min(row + 1, rows - 1)
      const left = Math.max(column - 1, 0)
      const right = Math.min(column + 1, columns - 1)
      for (let r = top; r <= bottom; r++)
        for (let c = left; c <= right; c++) {
          sum += depths[r * columns + c]
          n++
        }
      const mean = sum / n
      values[row * columns + column] = mean
      if (mean > deepest) deepest = mean
    }
  if (!(deepest > FROM)) return null
  const whole = Math.log(Math.max(deepest / FROM, RANGE))
  for (let i = 0; i < values.length; i++) values[i] = values[i] > FROM ? (MOST * Math.log(values[i] / FROM)) / whole : 0
  return { columns, rows, values }
}

/** Lays shades over what is painted on a canvas of a panel, and over nothing else. */
export function layShades(c: CanvasRenderingContext2D, { columns, rows, values }: Shades, ink: number[], pixelRatio: number): void {
  const small = document.createElement('canvas')
  small.width = columns
  small.height = rows
  const pixels = new Uint8ClampedArray(4 * columns * rows)
  const [red, green, blue] = ink
  for (let i = 0, at = 0; i < values.length; i++, at += 4) {
    pixels[at] = red
    pixels[at + 1] = green
    pixels[at + 2] = blue
    pixels[at + 3] = Math.round(255 * values[i])
  }
  small.getContext('2d')!.putImageData(new ImageData(pixels, columns, rows), 0, 0)
  c.globalCompositeOperation = 'source-atop'
  c.imageSmoothingEnabled = true
  c.drawImage(small, 0, 0, columns * CELL * pixelRatio, rows * CELL * pixelRatio)
  c.globalCompositeOperation = 'source-over'
}
