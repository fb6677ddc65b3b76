/** Walking through the steps of a figure, one picture at a time, by hand or by itself. */
import type { Figure } from '../figure/figure'

/** How long each step stays while they play, in milliseconds. */
const STAY = 900

/** What of a figure is seen at a step: the panel of that step, as if it were the only one. */
export function stepOf(figure: Figure, step: number): Figure {
  return {
    ...figure,
    step: false,
    panels: [figure.panels[step]],
    layers: figure.layers.filter((l) => l.panel === step).map((l) => ({ ...l, panel: 0 })),
    texts: figure.texts.filter((t) => t.panel < 0 || t.panel === step).map((t) => ({ ...t, panel: Math.min(t.panel, 0) })),
  }
}

export class Steps {
  readonly element = document.createElement('div')
  private readonly slider = document.createElement('input')
  private readonly playing = document.createElement('button')
  private figure: Figure | null = null
  private seen = new Map<number, Figure>()
  private at = 0
  private timer = 0

  constructor(private readonly show: (figure: Figure) => void) {
    this.element.className = 'lark-steps'
    this.element.hidden = true
    this.element.setAttribute('role', 'group')
    this.element.setAttribute('aria-label', 'Steps')
    this.slider.type = 'range'
    this.slider.min = '0'
    this.slider.setAttribute('aria-label', 'Step')
    this.slider.addEventListener('input', () => {
      this.stop()
      this.go(Number(this.slider.value))
    })
    this.playing.type = 'button'
    this.playing.addEventListener('click', () => (this.timer ? this.stop() : this.play()))
    this.element.append(this.button('Step before', '‹', -1), this.slider, this.button('Next step', '›', 1), this.playing)
    this.stop()
  }

  private button(label: string, sign: string, by: number): HTMLButtonElement {
    const button = document.createElement('button')
    button.type = 'button'
    button.textContent = sign
    button.setAttribute('aria-label', label)
    button.addEventListener('click', () => {
      this.stop()
      this.go(this.at + by)
    })
    return button
  }

  /** Takes a figure; gives what is seen of it at the step that is looked at. */
  take(figure: Figure): Figure {
    const names = (of: Figure | null) => of?.panels.map((p) => p.titles?.[0]).join('\n')
    if (names(figure) !== names(this.figure)) {
      this.stop()
      this.at = 0
    }
    this.figure = figure
    this.seen.clear()
    this.element.hidden = !figure.step
    if (!figure.step) {
      this.stop()
      return figure
    }
    this.slider.max = String(figure.panels.length - 1)
    this.tell()
    return this.now(figure)
  }

  /** Stands over the middle of the frame of the picture. */
  place(frame: { left: number; top: number; width: number } | undefined): void {
    if (!frame || this.element.hidden) return
    this.element.style.left = `${frame.left + frame.width / 2}px`
    this.element.style.top = `${frame.top - 27}px`
  }

  stop(): void {
    clearInterval(this.timer)
    this.timer = 0
    this.playing.textContent = 'play'
  }

  private play(): void {
    this.playing.textContent = 'pause'
    const last = () => this.at >= this.figure!.panels.length - 1
    if (last()) this.go(0)
    this.timer = window.setInterval(() => (last() ? this.stop() : this.go(this.at + 1)), STAY)
  }

  private go(step: number): void {
    const { figure } = this
    const at = figure && Math.max(0, Math.min(figure.panels.length - 1, step))
    if (!figure || at === null || at === this.at) return
    this.at = at
    this.tell()
    this.show(this.now(figure))
  }

  private tell(): void {
    this.slider.value = String(this.at)
    this.slider.setAttribute('aria-valuetext', this.figure?.panels[this.at]?.titles?.[0] ?? '')
  }

  /** The figure of the step; the same each time, so that what was made of it is kept. */
  private now(figure: Figure): Figure {
    this.at = Math.min(this.at, figure.panels.length - 1)
    let seen = this.seen.get(this.at)
    if (!seen) this.seen.set(this.at, (seen = stepOf(figure, this.at)))
    return seen
  }
}
