import { FONT } from './theme'

/** Whether a shape is a letter or sign of the chart's own: no other shape has so short a name. */
export const isCharacter = (shape: string): boolean => [...shape.normalize()].length <= 2

/** The smallest size of a letter that stands for a dot, in pixels. */
const LEAST_CHARACTER = 9

/** The size of a letter that stands for a dot of a radius. */
export const characterSize = (r: number) => Math.max(LEAST_CHARACTER, 2.6 * r)

/** Draws a letter that stands for a dot of a radius. */
export function drawCharacter(c: CanvasRenderingContext2D, character: string, x: number, y: number, r: number, colour: string): void {
  c.font = `600 ${characterSize(r)}px ${FONT}`
  c.textAlign = 'center'
  c.textBaseline = 'middle'
  c.fillStyle = colour
  c.fillText(character, x, y)
}

/** Draws the outline of a mark so that every shape covers about the area of a circle of the radius. */
export function traceShape(
  c: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
  shape: string,
  x: number,
  y: number,
  r: number,
): void {
  c.beginPath()
  switch (shape) {
    case 'square': {
      const a = r * 0.886
      c.rect(x - a, y - a, 2 * a, 2 * a)
      return
    }
    case 'triangle':
    case 'down': {
      const a = r * 1.555 * (shape === 'down' ? -1 : 1)
      c.moveTo(x, y - a)
      c.lineTo(x + a * 0.866, y + a / 2)
      c.lineTo(x - a * 0.866, y + a / 2)
      c.closePath()
      return
    }
    case 'diamond': {
      const a = r * 1.253
      c.moveTo(x, y - a)
      c.lineTo(x + a, y)
      c.lineTo(x, y + a)
      c.lineTo(x - a, y)
      c.closePath()
      return
    }
    case 'cross': {
      const a = r * 1.15
      const b = r * 0.42
      c.moveTo(x - b, y - a)
      for (const [dx, dy] of [
        [b, -a],
        [b, -b],
        [a, -b],
        [a, b],
        [b, b],
        [b, a],
        [-b, a],
        [-b, b],
        [-a, b],
        [-a, -b],
        [-b, -b],
      ])
        c.lineTo(x + dx, y + dy)
      c.closePath()
      return
    }
    case 'bar': {
      c.rect(x - r * 0.5, y - r * 1.4, r, r * 2.8)
      return
    }
    case 'ring':
      c.arc(x, y, r * 1.05, 0, 2 * Math.PI)
      c.moveTo(x + r * 0.45, y)
      c.arc(x, y, r * 0.45, 0, 2 * Math.PI, true)
      return
  }
  c.arc(x, y, r, 0, 2 * Math.PI)
}
