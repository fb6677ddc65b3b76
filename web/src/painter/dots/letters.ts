/** The stamp of a letter that stands for a dot: how much of each pixel it covers. */
import { characterSize, drawCharacter } from '../shapes'
import { trimmed, type Stamp } from './stamps'

export function letterStamp(character: string, radius: number, pixelRatio: number): Stamp {
  const half = Math.ceil((0.75 * characterSize(radius) + 1) * pixelRatio)
  const side = 2 * half + 1
  const canvas = Object.assign(document.createElement('canvas'), { width: side, height: side })
  const c = canvas.getContext('2d', { willReadFrequently: true })!
  c.scale(pixelRatio, pixelRatio)
  drawCharacter(c, character, side / 2 / pixelRatio, side / 2 / pixelRatio, radius, '#000000')
  const { data } = c.getImageData(0, 0, side, side)
  return trimmed(
    half,
    Float32Array.from({ length: side * side }, (_, i) => data[4 * i + 3] / 255),
  )
}
