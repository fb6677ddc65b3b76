/** The buttons in the corner of a chart. */
export class Tools {
  readonly element = document.createElement('div')
  private choosing: HTMLButtonElement | null = null

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
