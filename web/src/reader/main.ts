/** A shared page: paints the fixed copy, lets it be read, and lists its values. */
import './reader.css'
import { decodePicture, type Picture } from '../figure/figure'
import { ChartView } from '../interact/chartview'
import { valueTable } from '../interact/values'
import { whenThemeTurns } from '../painter/theme'
import { lettersOf, styleOf } from '../painter/axes'
import { buildKeys, putInside, replaceKeys } from '../painter/keys'

const page = document.querySelector<HTMLElement>('main.shared')
if (page) void open(page)

async function open(page: HTMLElement): Promise<void> {
  const key = page.dataset.key!
  const host = document.getElementById('chart')!
  try {
    const picture = await fetched(`/s/${key}/figure`)
    host.replaceChildren()
    await Promise.all(['400 13px "Hanken Grotesk"', '600 13px "Hanken Grotesk"'].map((font) => document.fonts.load(font)))
    start(host, key, picture)
  } catch (fault) {
    const words = document.createElement('p')
    words.className = 'waiting'
    words.textContent = `The chart cannot be shown: ${fault instanceof Error ? fault.message : fault}. Reload the page to try again.`
    host.replaceChildren(words)
  }
}

async function fetched(path: string): Promise<Picture> {
  const answer = await fetch(path)
  if (!answer.ok) throw new Error(((await answer.json()) as { message: string }).message)
  return decodePicture(await answer.arrayBuffer())
}

function start(host: HTMLElement, key: string, picture: Picture): void {
  const { figure, reading } = picture
  const words = reading.paragraphs.map((p) => p.spans.map((s) => s.text).join('')).join(' ')
  const keys = document.getElementById('keys')!
  placeKeys(host, keys, figure.manner?.key)
  const paper = figure.manner?.paper
  if (paper)
    Object.assign(host.style, {
      aspectRatio: `${paper.width} / ${paper.height}`,
      height: 'auto',
      width: `min(100%, ${paper.width}px)`,
      flex: 'none',
    })
  const chart = new ChartView(host, {
    rowValues: async (row) => (await fetch(`/s/${key}/rows/${row}`)).json(),
    onIsolate: () => redraw(),
    onDeep: () =>
      void fetched(`/s/${key}/figure/exact`).then(
        (exact) => chart.show(exact.figure, words),
        () => {},
      ), // without it the chart stays as it is
  })
  const redraw = () =>
    replaceKeys(
      keys,
      buildKeys(figure, chart.isolated, (selection) => chart.isolate(selection)),
    )
  if (figure.manner?.key === 'inside') putInside(keys, figure)
  chart.show(figure, words)
  redraw()
  whenThemeTurns(redraw)
  if (figure.note) {
    const note = document.createElement('p')
    note.className = 'text note'
    note.textContent = figure.note
    if (figure.manner?.letters) Object.assign(note.style, styleOf(lettersOf(figure, 'note', 14)))
    keys.after(note)
  }
  if (figure.keys.some((k) => k.entries)) {
    const hint = document.createElement('span')
    hint.textContent = `Press a name in the key to show it alone`
    document.getElementById('hints')!.append(hint)
  }
  if (figure.manner?.shaded) {
    const hint = document.createElement('span')
    hint.textContent = 'Deeper where more dots lie over each other'
    document.getElementById('hints')!.append(hint)
  }
  toggles('show-table', 'values', (section) => section.append(valueTable(figure)))
  toggles('show-made', 'made')
}

/** Puts the keys where the chart says: below it, unless it says otherwise. */
function placeKeys(host: HTMLElement, keys: HTMLElement, at: 'top' | 'right' | 'inside' | 'off' | undefined): void {
  keys.hidden = at === 'off'
  if (at === 'top') host.before(keys)
  if (at === 'inside') {
    const over = document.createElement('div')
    over.className = 'over'
    host.replaceWith(over)
    over.append(host, keys)
    keys.classList.add('keys-inside')
  }
  if (at !== 'right') return
  const pair = document.createElement('div')
  pair.className = 'beside'
  host.replaceWith(pair)
  pair.append(host, keys)
  keys.classList.add('keys-beside')
}

/** A button that shows and hides a section, filled when it is first shown. */
function toggles(button: string, section: string, fill?: (section: HTMLElement) => void): void {
  const press = document.getElementById(button)!
  const shown = document.getElementById(section)!
  press.addEventListener('click', () => {
    if (shown.hidden && fill && !shown.dataset.filled) {
      fill(shown)
      shown.dataset.filled = 'yes'
    }
    shown.hidden = !shown.hidden
    press.setAttribute('aria-expanded', String(!shown.hidden))
    if (!shown.hidden) shown.scrollIntoView({ block: 'nearest', behavior: 'smooth' })
  })
}
