/** Cards that stay where they were pressed, until they are closed. */
import { toX, toY, type Frame } from '../painter/geometry'
import type { CardText } from './card'
import { CardBox } from './cardbox'

/** How many stay at once; the oldest makes room. */
const MOST = 6

interface Pin {
  box: CardBox
  panel: number
  u: number
  v: number
  radius: number
}

/** The words of a card as text: its heading, then a line for each fact. */
export function cardWords({ heading, facts, table, foot }: CardText): string {
  const rows = table ? [table.columns.join('\t'), ...table.rows.map((r) => [r.name, ...r.values].join('\t'))] : []
  return [heading, ...facts.map((f) => `${f.name}: ${f.value}`), ...rows, foot ?? ''].filter(Boolean).join('\n')
}

export class Pins {
  private readonly pins = new Map<string, Pin>()

  constructor(private readonly host: HTMLElement) {}

  /** Pins a card at a mark, or takes it away where it is pinned. */
  toggle(key: string, text: CardText, at: Omit<Pin, 'box'>, frames: Frame[], width: number, height: number): void {
    if (this.remove(key)) return
    const [oldest] = this.pins.keys()
    if (this.pins.size >= MOST) this.remove(oldest)
    const box = new CardBox()
    this.host.append(box.element)
    this.pins.set(key, { box, ...at })
    box.show(text, 0, 0, 0, width, height)
    const { element } = box
    element.classList.add('pinned')
    element.setAttribute('role', 'group')
    element.setAttribute('aria-label', `Pinned: ${text.heading}`)
    const foot = document.createElement('p')
    foot.append(
      button('copy', 'Copy this card as text', (press) => {
        navigator.clipboard.writeText(cardWords(text)).then(
          () => (press.textContent = 'copied'),
          () => (press.textContent = 'not allowed'),
        )
      }),
      button('close', 'Close this card', () => this.remove(key)),
    )
    element.append(foot)
    this.place(frames, width, height)
  }

  private remove(key: string): boolean {
    this.pins.get(key)?.box.element.remove()
    return this.pins.delete(key)
  }

  /** Whether any card is pinned. */
  get some(): boolean {
    return this.pins.size > 0
  }

  clear(): void {
    for (const key of [...this.pins.keys()]) this.remove(key)
  }

  /** Puts each card beside its mark; those whose mark is not seen are hidden. */
  place(frames: Frame[], width: number, height: number): void {
    for (const { box, panel, u, v, radius } of this.pins.values()) {
      const f = frames[panel]
      const seen = f && u >= f.view.u0 && u <= f.view.u1 && v >= f.view.v0 && v <= f.view.v1
      box.element.hidden = !seen
      if (seen) box.stand(toX(f, u), toY(f, v), radius + 12, width, height)
    }
  }
}

function button(words: string, label: string, act: (button: HTMLButtonElement) => void): HTMLButtonElement {
  const made = document.createElement('button')
  made.type = 'button'
  made.textContent = words
  made.title = label
  made.addEventListener('click', () => act(made))
  return made
}
