/** The lines of a card: the exact values of a mark, written for people. */
import type { CardColumn, Fact, Figure } from '../api/figure'
import { formatNumber } from '../scale/format'

export interface CardText {
  heading: string
  facts: Fact[]
}

const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December']

function dateText(seconds: number, grain?: string): string {
  const d = new Date(seconds * 1000)
  const day = `${d.getUTCDate()} ${MONTHS[d.getUTCMonth()]} ${d.getUTCFullYear()}`
  return grain === 'day' ? day : `${day} ${d.toISOString().slice(11, 16)}`
}

/** All the digits that a number has, with marks between thousands. */
export function exactNumber(v: number): string {
  const decimals = (String(v).split('e')[0].split('.')[1] ?? '').length
  return formatNumber(v, Math.min(decimals, 8))
}

export function valueText(column: CardColumn, dot: number): string {
  if (column.codes) return column.codes[dot] < 0 ? 'missing' : column.levels![column.codes[dot]]
  const v = column.numbers![dot]
  if (Number.isNaN(v)) return 'missing'
  return column.kind === 'date' ? dateText(v, column.grain) : withUnit(exactNumber(v), column.unit)
}

export const withUnit = (text: string, unit?: string) => (!unit ? text : unit === '%' ? `${text} %` : /^[£$€¥]$/.test(unit) ? unit + text : `${text} ${unit}`)

/** The card of a dot from what the figure carries; null where its values must be asked for. */
export function dotCard(figure: Figure, dot: number): CardText | null {
  const { columns } = figure.card
  if (columns.length === 0 || (!columns[0].numbers && !columns[0].codes)) return null
  return assemble(figure, (column) => valueText(column, dot))
}

/** The card of a dot from the text values of its row, as the server gives them. */
export function rowCard(figure: Figure, values: Record<string, string>): CardText {
  return assemble(figure, (column) => {
    const text = values[column.column] ?? ''
    if (text === '') return 'missing'
    if (column.kind === 'number') return withUnit(exactNumber(Number(text)), column.unit)
    return text
  })
}

function assemble(figure: Figure, text: (column: CardColumn) => string): CardText {
  const { heading, columns } = figure.card
  const titled = columns.find((c) => c.column === heading)
  return {
    heading: titled ? text(titled) : '',
    facts: columns.filter((c) => c !== titled).map((c) => ({ name: c.name, value: text(c) })),
  }
}
