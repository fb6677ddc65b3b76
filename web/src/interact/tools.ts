/** The buttons in the corner of a chart. */
export class Tools {
  readonly element = document.createElement('div')
  private choosing: HTMLButtonElement | null = null
  private data: HTMLButtonElement | null = null
  private whole: HTMLButtonElement | null = null

  constructor() {
    this.element.className = 'lark-tools'
  }

  add(label: string, sign: string, act: () => void): HTMLButtonElement {
    const button = document.createElement('button')
    button.type = 'button'
    button.textContent = sign
    button.title = label
    button.setAttribute('aria-label', label)
    button.addEventListener('click', act)
    this.element.append(button)
    return button
  }

  /** Adds the buttons that show all rows, also beyond the limits that were set, and go back to these. */
  addWhole(toData: () => void, reset: () => void): void {
    this.data = this.add('To all data, beyond the limits that are set', 'all data', toData)
    this.data.className = 'word'
    this.data.hidden = true
    this.whole = this.add('Show all', '⤢', reset)
  }

  /** Whether marks lie beyond the limits that were set: then the whole is what they leave, and all data are more. */
  set limited(on: boolean) {
    if (!this.data || !this.whole) return
    this.data.hidden = !on
    const label = on ? 'Back to the limits that are set' : 'Show all'
    this.whole.title = label
    this.whole.setAttribute('aria-label', label)
  }

  /** Adds the button that has dragging draw an outline around rows. */
  addChoosing(): void {
    this.choosing = this.add('Choose rows by drawing around them', 'choose', () => (this.isChoosing = !this.isChoosing))
    this.isChoosing = false
  }

  /** Whether dragging draws an outline around rows. */
  get isChoosing(): boolean {
    return this.choosing?.getAttribute('aria-pressed') === 'true'
  }

  set isChoosing(on: boolean) {
    this.choosing?.setAttribute('aria-pressed', String(on))
  }

  set zoomed(on: boolean) {
    this.element.classList.toggle('zoomed', on)
  }
}

/** What the buttons of a chart do; keep, list: none. */
export interface ToolsHand {
  chooses: boolean
  keep?: () => void
  list?: () => void
  zoom: (factor: number) => void
  widest: () => void
  reset: () => void
}

/** Adds all buttons that a chart has. */
export function addTools(tools: Tools, hand: ToolsHand): void {
  if (hand.chooses) tools.addChoosing()
  if (hand.keep) tools.add('Keep this part as the limits of the axes', 'keep', hand.keep).classList.add('when-zoomed')
  if (hand.list) tools.add('List the rows under this part', 'rows', hand.list).classList.add('when-zoomed')
  tools.add('Zoom in', '+', () => hand.zoom(1 / 1.5))
  tools.add('Zoom out', '−', () => hand.zoom(1.5))
  tools.addWhole(hand.widest, hand.reset)
}
