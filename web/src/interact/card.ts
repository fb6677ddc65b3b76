/** The lines of a card: the exact values of a mark, written for people. */
import { scaleX, scaleY, type AxisScale, type CardColumn, type Fact, type Figure, type Layer } from '../figure/figure'
import { formatNumber, formatValue, pence } from '../scale/format'
import { inForm } from '../scale/said'
import { valueAt } from '../scale/scale'
import { pathAt } from './hit'

export interface CardText {
  heading: string
  facts: Fact[]
  /** Of several panels: a line of values for each name, the panel that is pointed at marked. */
  table?: { columns: string[]; here: number; rows: { name: string; values: string[] }[] }
  foot?: string
}

const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December']

function dateText(seconds: number, grain?: string): string {
  const d = new Date(seconds * 1000)
  const day = `${d.getUTCDate()} ${MONTHS[d.getUTCMonth()]} ${d.getUTCFullYear()}`
  if (grain === 'day') return day
  return `${day} ${d.toISOString().slice(11, d.getUTCMilliseconds() ? 23 : d.getUTCSeconds() ? 19 : 16)}`
}

/** All the digits that a number has, with marks between thousands. */
export function exactNumber(v: number, least = 0): string {
  const decimals = (String(v).split('e')[0].split('.')[1] ?? '').length
  return formatNumber(v, Math.min(Math.max(decimals, String(v).includes('e') ? 0 : least), 8))
}

export function valueText(column: CardColumn, dot: number): string {
  if (column.codes) return column.codes[dot] < 0 ? 'missing' : column.levels![column.codes[dot]]
  const v = column.numbers![dot]
  if (Number.isNaN(v)) return 'missing'
  return column.kind === 'date' ? dateText(v, column.grain) : cardNumber(v, column)
}

/** A number of a card keeps its digits, in the form of its column. */
const cardNumber = (v: number, { form, unit, fixed }: CardColumn) =>
  withUnit(form && form !== '120k' ? inForm(form, v, exactNumber(v)) : exactNumber(v, fixed), unit)

export const withUnit = (text: string, unit?: string) =>
  !unit || text.includes(unit) ? text : unit === '%' ? `${text} %` : /^[£$€¥]$/.test(unit) ? unit + pence(text) : `${text} ${unit}`

/** The card of a point that is a row, from what the figure carries; null where its values must be asked for. */
export function pointCard(figure: Figure, layer: Layer, point: number): CardText | null {
  const { columns } = figure.card
  if (columns.length === 0 || (!columns[0].numbers && !columns[0].codes)) return null
  return assemble(figure, (column) => valueText(column, (layer.first ?? 0) + point))
}

/** The card of a row from the text values that the server gives. */
export function rowCard(figure: Figure, values: Record<string, string>): CardText {
  return assemble(figure, (column) => {
    const text = values[column.column] ?? ''
    if (text === '') return 'missing'
    if (column.kind === 'number') return cardNumber(Number(text), column)
    return text
  })
}

/**
 * What the figure itself tells of a row whose values must be asked for: the places along the axes, as exactly as they
 * are drawn, and the group that colours; what it does not know is left open.
 */
export function nearCard(figure: Figure, layer: Layer, point: number): CardText {
  const key = layer.keys?.colour ? figure.keys[layer.keys.colour - 1] : undefined
  const along = [
    [scaleX(figure, layer.panel), layer.x![point]],
    [scaleY(figure, layer.panel), layer.y![point]],
  ] as const
  return assemble(figure, (column) => {
    const axis = along.find(([scale]) => scale.column === column.column)
    if (axis) return axis[0].kind === 'groups' ? placeText(...axis) : `≈ ${placeText(...axis)}`
    if (key?.column === column.column && key.entries && layer.colour) return key.entries[layer.colour[point]]?.name ?? '…'
    return '…'
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

/** What the lines of a panel say at one place along x; null where no line passes. */
export function sameXCard(figure: Figure, panel: number, u: number, shownIn: (layer: Layer) => (i: number) => boolean): CardText | null {
  const [x, y] = [scaleX(figure, panel), scaleY(figure, panel)]
  const write = placeText
  const facts: Fact[] = []
  for (const layer of figure.layers) {
    if (layer.panel !== panel || layer.primitive !== 'paths') continue
    const visible = shownIn(layer)
    for (let i = 0; i < layer.count; i++) {
      const v = visible(i) ? pathAt(layer, i, u) : null
      if (v !== null && v >= -0.001 && v <= 1.001) facts.push({ name: ownCard(layer, i)?.heading || y.name, value: write(y, v) })
    }
  }
  if (facts.length === 0) return null
  const titles = figure.panels[panel].titles ?? []
  return { heading: [`At ${write(x, u)}`, ...titles].join(' · '), facts }
}

/** A place along an axis, written for people. */
export function placeText(s: AxisScale, place: number): string {
  const v = valueAt(s, place)
  if (s.kind === 'groups') return s.levels?.[Math.round(v)] ?? ''
  return s.kind === 'date' ? dateText(v, s.grain ?? 'day') : withUnit(inForm(s.form ?? '', v, formatValue(v, 4)), s.unit)
}

/** The card of a primitive that is no row; null where it has none. */
export function ownCard(layer: Layer, i: number): CardText | null {
  const card = layer.cards?.[layer.primitive === 'paths' && layer.cards.length === 1 ? 0 : i]
  return card ? { heading: card.heading ?? '', facts: card.facts } : null
}
