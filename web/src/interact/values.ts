/** What a figure draws as a table: the values of its rows, or what its marks say. */
import { pointCount, type Figure } from '../figure/figure'
import { formatNumber } from '../scale/format'
import { valueText } from './card'

const MOST_ROWS = 1000

/** The table, with a word on what is not in it. */
export function valueTable(figure: Figure): Node {
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
