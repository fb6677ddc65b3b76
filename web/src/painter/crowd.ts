/** Keeps words from standing over each other on a paper that is smaller than the one they were laid out for. */
import type { Figure, Layer } from '../figure/figure'

/** Where words stand: their anchor, in the middle of their height. */
interface Place {
  x: number
  y: number
}

interface Box {
  left: number
  right: number
  top: number
  bottom: number
}

/** How high a line of words is, of their size. */
const LINE = 1.25
/** How many lines up and down a name at the end of a line may move to be read. */
const NUDGES = [0, 1, -1, 2, -2]
/** By how much smaller a paper is before words can stand over each other. */
const SMALLER = 0.98

export class Crowd {
  private readonly taken: Box[] = []
  /** Words that found no room. */
  left = 0

  constructor(private readonly width: number) {}

  /** The crowd of a paper; none where it is as large as the layout. */
  static on(figure: Figure, width: number, height: number): Crowd | undefined {
    return width < SMALLER * figure.width || height < SMALLER * figure.height ? new Crowd(width) : undefined
  }

  /** Finds room for words, which may be moved: names at the ends of lines up or down, and all within the paper. */
  seat(at: Place, wide: number, layer: Layer): boolean {
    const { anchor, size = 12 } = layer.style
    const high = size * LINE
    const before = anchor === 'middle' ? wide / 2 : anchor === 'end' ? wide : 0
    if (at.x - before + wide > this.width - 2) at.x = this.width - 2 - wide + before
    for (const lines of layer.along ? NUDGES : [0]) {
      const y = at.y + lines * high
      const box = { left: at.x - before, right: at.x - before + wide, top: y - high / 2, bottom: y + high / 2 }
      if (this.taken.some((t) => box.left < t.right && t.left < box.right && box.top < t.bottom && t.top < box.bottom)) continue
      this.taken.push(box)
      at.y = y
      return true
    }
    this.left++
    return false
  }
}
