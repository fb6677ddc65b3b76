/** What stands at a place of a chart, for a hand that comes there: labels of keys, words, ends of axes, panels. */
import type { Figure, Selection } from '../figure/figure'
import { inside, type Frame } from '../painter/geometry'
import type { Theme } from '../painter/theme'
import { endAt, labelAt, type AxisEnd } from './axes'
import { wordAt } from './governs'
import type { Hit } from './hit'
import type { ChartOptions } from './options'

/** The panel at a place that shows rows, and not their spread along an edge. */
export const pictureAt = (figure: Figure, frames: Frame[], x: number, y: number): Frame | undefined =>
  frames.find((f, i) => !figure.panels[i].edge && inside(f, x, y))

export class Ground {
  constructor(
    private readonly c: CanvasRenderingContext2D,
    private readonly figure: Figure,
    private readonly frames: Frame[],
    private readonly theme: Theme,
    private readonly size: { width: number; height: number },
    private readonly options: ChartOptions,
    private readonly hit: Hit | null,
    private readonly whole: boolean,
  ) {}

  labelAt(x: number, y: number): Selection | null {
    return labelAt(this.c, this.figure, this.frames, this.theme, x, y)
  }

  wordAt(x: number, y: number): string | null {
    if (!this.options.onPressWord) return null
    return wordAt({ c: this.c, figure: this.figure, frames: this.frames, theme: this.theme, ...this.size }, x, y)
  }

  endAt(x: number, y: number): AxisEnd | null {
    return this.options.onDragAxis && this.whole ? endAt(this.figure, this.frames, x, y) : null
  }

  cursorAt(x: number, y: number): string {
    const end = this.endAt(x, y)
    if (end) return end.axis === 'x' ? 'ew-resize' : 'ns-resize'
    const governed = this.options.onPressWord && this.hit && this.figure.layers[this.hit.layer].says
    return governed || this.labelAt(x, y) || this.wordAt(x, y) ? 'pointer' : 'crosshair'
  }
}
