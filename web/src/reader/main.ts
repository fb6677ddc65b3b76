/** A shared page: paints the fixed copy, lets it be read, and lists its values. */
import './reader.css'
import { decodePicture, pointCount, type Figure, type Picture } from '../figure/figure'
import { ChartView } from '../interact/chartview'
import { valueText } from '../interact/card'
import { whenThemeTurns } from '../painter/theme'
import { lettersOf, styleOf } from '../painter/axes'
import { buildKeys, putInside } from '../painter/keys'
import { formatNumber } from '../scale/format'

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
  const redraw = () => keys.replaceChildren(...buildKeys(figure, chart.isolated, (selection) => chart.isolate(selection)))
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

const MOST_ROWS = 1000

function valueTable(figure: Figure): Node {
  const count = pointCount(figure)
  if (count === 0) return toldTable(figure)
  const columns = figure.card.columns.filter((c) => c.numbers || c.codes)
  const words = document.createElement('p')
  words.className = 'text'
  if (columns.length === 0) {
    words.textContent = `The chart shows ${formatNumber(count, 0)} rows, too many to list here. Point at a mark to read its values.`
    return words
  }
  const table = tableOf(columns.map((column) => (column.unit ? `${column.name} (${column.unit})` : column.name)))
  const body = table.createTBody()
  for (let i = 0; i < Math.min(count, MOST_ROWS); i++) {
    const row = body.insertRow()
    for (const column of columns) {
      const cell = row.insertCell()
      cell.textContent = valueText({ ...column, unit: undefined }, i)
      if (column.numbers) cell.className = 'number'
    }
  }
  if (count <= MOST_ROWS) return scrolled(table)
  const both = document.createDocumentFragment()
  words.textContent = `The first ${formatNumber(MOST_ROWS, 0)} of ${formatNumber(count, 0)} rows.`
  both.append(words, scrolled(table))
  return both
}

/** What the cards of a chart of statistics say, a line each. */
function toldTable(figure: Figure): Node {
  const told = figure.layers.find((l) => l.cards?.length)
  const cards = figure.layers.filter((l) => l.mark === told?.mark && l.primitive === told.primitive).flatMap((l) => l.cards ?? [])
  const names = [...new Set(cards.flatMap((card) => card.facts.map((f) => f.name)))]
  const table = tableOf(['', ...names])
  const body = table.createTBody()
  for (const card of cards.slice(0, MOST_ROWS)) {
    const row = body.insertRow()
    row.insertCell().textContent = card.heading ?? ''
    for (const name of names) row.insertCell().textContent = card.facts.find((f) => f.name === name)?.value ?? ''
  }
  return scrolled(table)
}

function tableOf(headings: string[]): HTMLTableElement {
  const table = document.createElement('table')
  const head = table.createTHead().insertRow()
  for (const heading of headings) {
    const cell = document.createElement('th')
    cell.scope = 'col'
    cell.textContent = heading
    head.append(cell)
  }
  return table
}

function scrolled(table: HTMLTableElement): HTMLElement {
  const scroll = document.createElement('div')
  scroll.className = 'scroll'
  scroll.tabIndex = 0
  scroll.setAttribute('role', 'region')
  scroll.setAttribute('aria-label', 'Table of values')
  scroll.append(table)
  return scroll
}
