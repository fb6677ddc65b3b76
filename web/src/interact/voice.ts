/** Says politely what changed on a chart that no word of the page says. */
import { isWhole } from '../painter/geometry'
import { seenWords } from './axes'
import { sameSelection, type Seen } from './seen'

/** How long after a view moved it is said what is seen, in milliseconds. */
const AFTER_MOVING = 600

export class Voice {
  readonly element = document.createElement('div')
  private saying = 0

  constructor() {
    this.element.className = 'lark-spoken'
    this.element.setAttribute('role', 'status')
  }

  /** Says something to whoever listens, once the hand rests. */
  say(words: string, after = 0): void {
    clearTimeout(this.saying)
    this.saying = window.setTimeout(() => (this.element.textContent = words), after)
  }

  /** Says which groups are shown, and which part is looked at. */
  tell(before: Seen, { figure, selection, view }: Seen): void {
    if (!figure || before.figure !== figure) return
    if (!sameSelection(selection, before.selection)) {
      const key = selection && figure.keys[selection.key - 1]
      this.say(key ? `${selection.entries.map((i) => key.entries?.[i]?.name).join(', ')} alone` : 'All groups')
    } else if (view !== before.view) this.say(isWhole(view) ? 'All of the chart' : seenWords(figure, view), AFTER_MOVING)
  }

  stop(): void {
    clearTimeout(this.saying)
  }
}
