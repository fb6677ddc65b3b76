/** The card: what hovering shows, as an element over the chart. */
import type { CardText } from './card'

export class CardBox {
  readonly element = document.createElement('div')

  constructor() {
    this.element.className = 'lark-card'
    this.element.hidden = true
  }

  get hidden(): boolean {
    return this.element.hidden
  }

  /** What it says, for a screen reader. */
  get text(): string {
    return [...this.element.querySelectorAll('strong, dt, dd')].map((e) => e.textContent).join(' ')
  }

  hide(): void {
    this.element.hidden = true
  }

  /** Shows words beside a place, on the paper. */
  show(text: CardText, x: number, y: number, gap: number, width: number, height: number): void {
    this.fill(text)
    const { offsetWidth: w, offsetHeight: h } = this.element
    this.element.style.left = `${x + gap + w <= width ? x + gap : Math.max(4, x - gap - w)}px`
    this.element.style.top = `${y + gap + h <= height ? y + gap : Math.max(4, y - gap - h)}px`
  }

  private fill(text: CardText): void {
    this.element.replaceChildren()
    if (text.heading) {
      const heading = document.createElement('strong')
      heading.textContent = text.heading
      this.element.append(heading)
    }
    const list = document.createElement('dl')
    for (const fact of text.facts) {
      const name = document.createElement('dt')
      const value = document.createElement('dd')
      name.textContent = fact.name
      value.textContent = fact.value
      list.append(name, value)
    }
    this.element.append(list)
    this.element.hidden = false
  }
}
