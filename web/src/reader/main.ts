/** A shared page: paints its charts, lets them be read under one hand, and lists their values. */
import './reader.css'
import { Linked } from '../interact/linked'
import { valueTable } from '../interact/values'
import { showTheme } from '../painter/theme'
import { tellNews } from './news'
import { keysOnce, Part } from './part'
import { offerSlides } from './slides'

const page = document.querySelector<HTMLElement>('main.shared')
if (page) void open(page)

async function open(page: HTMLElement): Promise<void> {
  const elements = [...page.querySelectorAll<HTMLElement>('[data-chart]')]
  const linked = elements.length > 1 ? new Linked() : null
  const parts = elements.map((element) => new Part(element, linked))
  forPrinters(parts)
  if ('embedded' in document.documentElement.dataset) tellHeight()
  await Promise.all(parts.map((part) => part.open()))
  keysOnce(parts)
  hint(parts)
  toggles('show-table', 'values', (section) => {
    for (const part of parts) {
      if (!part.figure) continue
      if (parts.length > 1) {
        const heading = document.createElement('h3')
        heading.textContent = part.element.querySelector('[aria-label]')?.getAttribute('aria-label')?.replace('Chart: ', '') ?? ''
        section.append(heading)
      }
      section.append(valueTable(part.figure))
    }
  })
  toggles('show-made', 'made')
  offerSlides(page, parts)
  tellNews(page)
}

function hint(parts: Part[]): void {
  const add = (words: string) => {
    const hint = document.createElement('span')
    hint.textContent = words
    document.getElementById('hints')!.append(hint)
  }
  if (parts.some(({ figure }) => figure?.keys.some((k) => k.entries && !k.named))) add('Press a name in the key to show it alone')
  if (parts.some(({ figure }) => figure?.manner?.shaded)) add('Deeper where more dots lie over each other')
}

/** A button that shows and hides a section, filled when it is first shown. */
function toggles(button: string, section: string, fill?: (section: HTMLElement) => void): void {
  const press = document.getElementById(button)
  const shown = document.getElementById(section)!
  press?.addEventListener('click', () => {
    if (shown.hidden && fill && !shown.dataset.filled) {
      fill(shown)
      shown.dataset.filled = 'yes'
    }
    shown.hidden = !shown.hidden
    press.setAttribute('aria-expanded', String(!shown.hidden))
    if (!shown.hidden) shown.scrollIntoView({ block: 'nearest', behavior: 'smooth' })
  })
}

/** On paper a page is black on white and its charts are in ink, whatever the screen is. */
function forPrinters(parts: Part[]): void {
  let was: 'light' | 'dark' | '' = ''
  const turn = (theme: typeof was, inked: boolean) => {
    showTheme(theme)
    for (const part of parts) part.print(inked)
  }
  addEventListener('beforeprint', () => {
    was = (document.documentElement.dataset.theme as typeof was) ?? ''
    turn('light', true)
  })
  addEventListener('afterprint', () => turn(was, false))
}

/** Tells the page around a frame how high it is, so that the frame can follow. */
function tellHeight(): void {
  const tell = () => parent.postMessage({ lark: 'height', height: document.documentElement.scrollHeight }, '*')
  new ResizeObserver(tell).observe(document.body)
}
