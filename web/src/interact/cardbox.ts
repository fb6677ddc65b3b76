/** The card: what hovering shows, as an element over the chart. */
import type { CardText } from './card'

/** What a card that stands as a sheet below the page can be asked. */
export interface Sheet {
  walk: (by: 1 | -1) => void
  close: () => void
}

/** How far a sheet is dragged down before it closes, in pixels. */
const CLOSES_AFTER = 40

export class CardBox {
  readonly element = document.createElement('div')
  /** Where the card is a sheet below the page, and does not float: on phones. */
  sheet: Sheet | null = null

  constructor() {
    this.element.className = 'lark-card'
    this.element.hidden = true
  }

  get hidden(): boolean {
    return this.element.hidden
  }

  /** What it says, for a screen reader. */
  get text(): string {
    return [...this.element.querySelectorAll('strong, dt, dd, th, td, p')].map((e) => e.textContent).join(' ')
  }

  hide(): void {
    this.element.hidden = true
  }

  /** Shows words beside a place, on the paper. */
  show(text: CardText, x: number, y: number, gap: number, width: number, height: number): void {
    this.fill(text)
    this.stand(x, y, gap, width, height)
  }

  /** Stands beside a place, on the paper. */
  stand(x: number, y: number, gap: number, width: number, height: number): void {
    if (this.sheet) return this.clear(y)
    const { offsetWidth: w, offsetHeight: h } = this.element
    this.element.style.left = `${x + gap + w <= width ? x + gap : Math.max(4, x - gap - w)}px`
    this.element.style.top = `${y + gap + h <= height ? y + gap : Math.max(4, y - gap - h)}px`
  }

  /** Scrolls the page so that the sheet does not hide what was touched. */
  private clear(y: number): void {
    const host = this.element.parentElement?.getBoundingClientRect()
    const below = host ? host.top + y + 16 - (innerHeight - this.element.offsetHeight) : 0
    if (below > 0) scrollBy({ top: below, behavior: 'smooth' })
  }

  /** The head of a sheet: to the mark before, the one after, and away. */
  private ways(): HTMLElement {
    const head = document.createElement('div')
    head.className = 'lark-sheet-ways'
    const { walk, close } = this.sheet!
    for (const [name, press] of [
      ['before', () => walk(-1)],
      ['after', () => walk(1)],
      ['Close', close],
    ] as const) {
      const button = document.createElement('button')
      button.type = 'button'
      button.textContent = name
      button.addEventListener('click', press)
      head.append(button)
    }
    return head
  }

  /** Makes the card a sheet. */
  asSheet(sheet: Sheet): void {
    this.sheet = sheet
    this.element.classList.add('lark-sheet')
    let from: number | null = null
    this.element.addEventListener('pointerdown', (e) => void (from = e.clientY))
    this.element.addEventListener('pointermove', (e) => {
      if (from === null || e.clientY - from < CLOSES_AFTER) return
      from = null
      sheet.close()
    })
    this.element.addEventListener('pointerup', () => void (from = null))
  }

  /** Shows words at a place that is free, as far as they stand on the paper there. */
  showAt(text: CardText, left: number, top: number, width: number, height: number): void {
    if (this.sheet) return this.fill(text)
    this.element.style.left = '0'
    this.fill(text)
    const { offsetWidth: w, offsetHeight: h } = this.element
    this.element.style.left = `${Math.max(4, Math.min(left, width - w - 6))}px`
    this.element.style.top = `${Math.max(4, Math.min(top, height - h - 6))}px`
  }

  private fill(text: CardText): void {
    this.element.replaceChildren()
    if (this.sheet) this.element.append(this.ways())
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
      const pair = document.createElement('div')
      pair.append(name, value)
      list.append(pair)
    }
    if (text.facts.length > 0) this.element.append(list)
    if (text.table) this.element.append(tableOf(text.table))
    if (text.foot) {
      const foot = document.createElement('p')
      foot.textContent = text.foot
      this.element.append(foot)
    }
    this.element.classList.toggle('wide', Boolean(text.table))
    this.element.hidden = false
  }
}

function tableOf({ columns, here, rows }: NonNullable<CardText['table']>): HTMLTableElement {
  const table = document.createElement('table')
  const row = (name: string, cells: string[], kind: 'th' | 'td') => {
    const line = table.insertRow()
    const head = document.createElement('th')
    head.textContent = name
    line.append(head)
    cells.forEach((text, i) => {
      const cell = document.createElement(kind)
      cell.textContent = text || '–'
      cell.classList.toggle('here', i === here)
      line.append(cell)
    })
  }
  row('', columns, 'th')
  for (const { name, values } of rows) row(name, values, 'td')
  return table
}
