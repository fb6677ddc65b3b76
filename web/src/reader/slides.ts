/** A page told in a meeting: block by block, as large as the window, its chart moving from one state to the next. */
import { ChartView } from '../interact/chartview'
import { buildKeys, replaceKeys } from '../painter/keys'
import type { Part } from './part'

/** Which way the keys lead. */
const WAYS: Record<string, 1 | -1> = { ArrowRight: 1, PageDown: 1, ' ': 1, ArrowLeft: -1, PageUp: -1 }

interface Slide {
  words: HTMLElement | null
  part: Part | undefined
}

export function offerSlides(page: HTMLElement, parts: Part[]): void {
  const press = document.getElementById('show-slides')
  const slides: Slide[] = [...page.querySelectorAll<HTMLElement>('.block')].map((block) => ({
    words: block.querySelector<HTMLElement>('.words'),
    part: parts.find((part) => block.contains(part.element)),
  }))
  press?.addEventListener('click', () => new Slides(page, slides).open(press))
}

const element = (tag: string, className: string, text = ''): HTMLElement =>
  Object.assign(document.createElement(tag), { className, textContent: text })

class Slides {
  private at = -1
  private readonly host = element('dialog', 'slides') as HTMLDialogElement
  private readonly words = element('div', 'slide-words words')
  private readonly paper = element('div', 'slide-chart')
  private readonly keys = element('div', 'keys')
  private readonly count = element('p', 'slide-count')
  private readonly chart: ChartView

  constructor(
    page: HTMLElement,
    private readonly slides: Slide[],
  ) {
    const heading = page.querySelector('h1')!
    this.host.setAttribute('aria-label', `Slides: ${heading.textContent}`)
    const title = element('div', 'slide-title')
    title.append(element('h1', '', heading.textContent), ...[...page.querySelectorAll('main > .text')].map((p) => p.cloneNode(true)))
    this.slides = [{ words: title, part: undefined }, ...slides]
    const foot = element('nav', 'slide-foot')
    for (const [name, act] of [
      ['Back', () => this.go(-1)],
      ['Next', () => this.go(1)],
      ['Close', () => this.close()],
    ] as const) {
      const button = element('button', '', name) as HTMLButtonElement
      button.type = 'button'
      button.addEventListener('click', act)
      foot.append(button)
    }
    foot.prepend(this.count)
    this.count.setAttribute('role', 'status')
    const right = element('div', 'slide-right')
    right.append(this.paper, this.keys)
    this.host.append(this.words, right, foot)
    document.body.append(this.host)
    this.chart = new ChartView(this.paper, { onIsolate: () => this.redraw() })
    this.host.addEventListener('keydown', (e) => this.keyed(e))
    this.host.addEventListener('cancel', (e) => {
      e.preventDefault()
      this.close()
    })
  }

  open(from: HTMLElement): void {
    this.show(0)
    this.host.showModal()
    this.host.querySelector<HTMLElement>('.slide-foot button:nth-of-type(2)')?.focus()
    void this.host.requestFullscreen?.().catch(() => {}) // in a frame that may not: as large as it is
    this.host.addEventListener('close', () => from.focus())
  }

  private close(): void {
    if (document.fullscreenElement) void document.exitFullscreen()
    this.chart.destroy()
    this.host.close()
    this.host.remove()
  }

  private keyed(e: KeyboardEvent): void {
    const onChart = this.paper.contains(e.target as Node)
    const way = WAYS[e.key]
    if (e.key === 'Home' || e.key === 'End') this.show(e.key === 'Home' ? 0 : this.slides.length - 1)
    else if (way && !onChart && !(e.key === ' ' && e.target instanceof HTMLButtonElement)) this.go(way)
    else return
    e.preventDefault()
  }

  private go(by: 1 | -1): void {
    this.show(this.at + by)
  }

  private show(at: number): void {
    if (at < 0 || at >= this.slides.length || at === this.at) return
    this.at = at
    const { words, part } = this.slides[at]
    this.words.replaceChildren(...(words ? [...words.cloneNode(true).childNodes] : []))
    const figure = part?.figure
    this.host.classList.toggle('without-chart', !figure)
    this.host.classList.toggle('without-words', !words)
    this.host.classList.toggle('first', at === 0)
    if (figure) this.chart.show(figure, part.element.querySelector('[aria-label]')?.getAttribute('aria-label') ?? '')
    this.redraw()
    this.count.textContent = `${at + 1} of ${this.slides.length}`
  }

  private redraw(): void {
    const figure = this.slides[this.at]?.part?.figure
    this.keys.hidden = !figure || figure.manner?.key === 'off'
    if (figure)
      replaceKeys(
        this.keys,
        buildKeys(figure, this.chart.isolated, (selection) => this.chart.isolate(selection)),
      )
  }
}
