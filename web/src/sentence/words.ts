/**
 * What pressing a word offers. Each choice is a document that could be said
 * instead, so that trying, keeping and typing all mean the same thing.
 */
import type { ColumnProfile, Document, FitClause } from '../api/client'

export interface Choice {
  key: string
  label: string
  detail?: string
  /** The column that the choice brings in, for its sign and small picture. */
  column?: ColumnProfile
  /** Words that a search also finds it by. */
  also?: string
  document: Document
  current: boolean
  /** Why it cannot be chosen. */
  barred?: string
}

export interface WordMenu {
  title: string
  placeholder: string
  choices: Choice[]
  /** The document without this word, where it can be taken out. */
  without?: Document
  /** The column that shares are measured against. */
  measure?: string
}

const fits = (d: Document): FitClause[] => d.fits ?? []

export function withFit(d: Document, index: number, change: Partial<FitClause>): Document {
  return { ...d, fits: fits(d).map((fit, i) => (i === index ? { ...fit, ...change } : fit)) }
}

export const withoutFit = (d: Document, index: number): Document => ({ ...d, fits: fits(d).filter((_, i) => i !== index) })

export const isNumeric = (c: ColumnProfile) => c.kind === 'number' || c.kind === 'date'

/** What a column's second line says: its groups, unit or range. */
export function columnDetail(c: ColumnProfile): string {
  if (c.kind === 'number') return c.unit || (c.low ? `${c.low} to ${c.high}` : '')
  if (c.kind === 'date') return c.low ? `${c.low} to ${c.high}` : ''
  if (c.kind === 'text') return `${c.distinct} different`
  return c.kind === 'yes / no' ? 'yes / no' : `${c.distinct} groups`
}

type Mapped = 'x' | 'y' | 'colour' | 'size' | 'shape'

const empty = (c: ColumnProfile) => c.distinct === 0 && c.missing > 0

const BARRED: Record<Mapped, (c: ColumnProfile) => string | undefined> = {
  x: (c) => (!isNumeric(c) && c.distinct > 60 ? 'too many groups for an axis' : undefined),
  y: (c) => (!isNumeric(c) && c.distinct > 60 ? 'too many groups for an axis' : undefined),
  colour: (c) => (!isNumeric(c) && c.distinct > 10 ? 'colour tells 10 groups apart' : undefined),
  size: (c) => (c.kind !== 'number' && c.kind !== 'yes / no' ? 'size needs numbers' : undefined),
  shape: (c) => (c.distinct > 8 ? 'shape tells 8 groups apart' : undefined),
}

const TITLES: Record<Mapped, string> = { x: 'Against', y: 'Plot', colour: 'Colour by', size: 'Size by', shape: 'Shape by' }

function put(d: Document, slot: Mapped, column: string): Document {
  const next = { ...d, [slot]: column }
  // What was said of an axis belongs to its old column.
  if (slot === 'x' && column !== d.x) return { ...next, x_axis: undefined }
  if (slot === 'y' && column !== d.y) return { ...next, y_axis: undefined }
  return next
}

/** Columns fitting for a slot first, then those that are barred, with the reason. */
function columnMenu(slot: Mapped, d: Document, columns: ColumnProfile[]): WordMenu {
  const choices = columns.map((column): Choice => {
    let document = put(d, slot, column.name)
    if (slot === 'x' && column.kind !== 'number') document = { ...document, log_x: undefined }
    if (slot === 'y' && column.kind !== 'number') document = { ...document, log_y: undefined }
    if ((slot === 'x' || slot === 'y') && !isNumeric(column) && column.kind !== 'yes / no') document = { ...document, fits: undefined }
    return { key: column.name, label: column.prose, detail: columnDetail(column), column, also: column.name + ' ' + (column.meaning ?? ''), document, current: d[slot] === column.name, barred: empty(column) ? 'all of it is missing' : BARRED[slot](column) }
  })
  const order = (c: Choice) => (c.barred ? 2 : slot === 'colour' || slot === 'shape' ? (c.column!.groups ? 0 : 1) : isNumeric(c.column!) ? 0 : 1)
  choices.sort((a, b) => order(a) - order(b))
  const removable = slot !== 'x' && slot !== 'y' && d[slot]
  return { title: TITLES[slot], placeholder: 'Find a column', choices, without: removable ? { ...d, [slot]: undefined } : undefined, measure: slot === 'y' ? d.x : d.y }
}

function scaleMenu(axis: 'x' | 'y', d: Document): WordMenu {
  const name = axis === 'x' ? 'log_x' : 'log_y'
  const said = Boolean(d[name])
  return {
    title: `Scale of ${axis}`,
    placeholder: 'Find a scale',
    choices: [
      { key: 'linear', label: 'linear scale', detail: 'equal steps stand equally far apart', also: 'normal plain', document: { ...d, [name]: undefined }, current: !said },
      { key: 'log', label: 'log scale', detail: 'equal ratios stand equally far apart', also: 'logarithmic', document: { ...d, [name]: true }, current: said },
    ],
    without: said ? { ...d, [name]: undefined } : undefined,
  }
}

const KINDS: { key: string; label: string; detail: string; change: Partial<FitClause> }[] = [
  { key: 'line', label: 'a straight line', detail: 'least squares', change: { kind: 'line', degree: undefined, span: undefined } },
  { key: 'curve 2', label: 'a curve of degree 2', detail: 'polynomial, one bend', change: { kind: 'curve', degree: 2, span: undefined } },
  { key: 'curve 3', label: 'a curve of degree 3', detail: 'polynomial, two bends', change: { kind: 'curve', degree: 3, span: undefined } },
  { key: 'local', label: 'a local regression', detail: 'follows the rows nearby', change: { kind: 'local', degree: undefined, span: undefined } },
  { key: 'spline', label: 'a smoothing spline', detail: 'as smooth as cross-validation finds best', change: { kind: 'spline', degree: undefined, span: undefined } },
  { key: 'robust line', label: 'a robust line', detail: 'Theil-Sen: far points hardly move it', change: { kind: 'robust line', degree: undefined, span: undefined } },
]

function fitKindMenu(index: number, d: Document): WordMenu {
  const fit = fits(d)[index]
  const now = fit.kind === 'curve' ? `curve ${fit.degree}` : fit.kind
  return {
    title: 'Fit',
    placeholder: 'Find a way of fitting',
    choices: KINDS.map((kind) => {
      const change = { ...kind.change }
      if (kind.key !== 'line') change.leaving_out_outliers = undefined
      if (kind.key === 'robust line') change.band = undefined
      if (kind.key === 'local' || kind.key === 'spline') change.band = fit.band && { ...fit.band, kind: 'confidence' }
      return { key: kind.key, label: kind.label, detail: kind.detail, also: 'regression trend', document: withFit(d, index, change), current: now === kind.key }
    }),
    without: withoutFit(d, index),
  }
}

function fitForMenu(index: number, d: Document, columns: ColumnProfile[]): WordMenu {
  const fit = fits(d)[index]
  const choices: Choice[] = [{ key: 'overall', label: 'all rows', detail: 'one fit', document: withFit(d, index, { each: undefined, overall: true }), current: !fit.each }]
  for (const column of columns.filter((c) => c.groups && !empty(c))) {
    const name = column.prose
    for (const overall of [true, false]) {
      choices.push({
        key: `${column.name} ${overall}`,
        label: overall ? `each ${name} and overall` : `each ${name}`,
        detail: `${column.distinct} groups`,
        column,
        also: column.name,
        document: withFit(d, index, { each: column.name, overall }),
        current: fit.each === column.name && Boolean(fit.overall) === overall,
      })
    }
  }
  return { title: 'Fit to', placeholder: 'Find whose fit it is', choices, without: withoutFit(d, index) }
}

function bandMenu(index: number, d: Document): WordMenu {
  const { band } = fits(d)[index]
  const choices: Choice[] = []
  const single = ['line', 'curve'].includes(fits(d)[index].kind)
  for (const kind of single ? (['confidence', 'prediction'] as const) : (['confidence'] as const)) {
    for (const level of [80, 90, 95, 99]) {
      choices.push({
        key: `${kind} ${level}`,
        label: `${level} % ${kind} band`,
        detail: kind === 'confidence' ? 'where the mean may lie' : 'where a single new case may lie',
        document: withFit(d, index, { band: { kind, level } }),
        current: band?.kind === kind && band.level === level,
      })
    }
  }
  return { title: 'Band', placeholder: 'Find a band', choices, without: withFit(d, index, { band: undefined }) }
}

function opacityMenu(d: Document): WordMenu {
  return {
    title: 'Opacity',
    placeholder: 'Find an opacity',
    choices: [0.1, 0.2, 0.35, 0.5, 0.75, 1].map((opacity) => ({ key: String(opacity), label: `${Math.round(100 * opacity)} % opaque`, document: { ...d, opacity }, current: d.opacity === opacity })),
    without: { ...d, opacity: undefined },
  }
}

/** The menu of a word, by its slot; null for a slot that opens something else. */
export function menuFor(slot: string, d: Document, columns: ColumnProfile[]): WordMenu | null {
  const [name, index] = slot.split(':')
  switch (name) {
    case 'x':
    case 'y':
    case 'colour':
    case 'size':
    case 'shape':
      return columnMenu(name, d, columns)
    case 'scale-x':
    case 'scale-y':
      return scaleMenu(name === 'scale-x' ? 'x' : 'y', d)
    case 'opacity':
      return opacityMenu(d)
    case 'fit-outliers':
      return {
        title: 'Outliers',
        placeholder: 'Find a way',
        choices: [
          { key: 'out', label: 'leaving out outliers', detail: '|studentised residual| > 3 or Cook’s D > 4/n', document: withFit(d, +index, { leaving_out_outliers: true }), current: true },
          { key: 'in', label: 'all rows', document: withFit(d, +index, { leaving_out_outliers: undefined }), current: false },
        ],
        without: withFit(d, +index, { leaving_out_outliers: undefined }),
      }
  }
  if (!fits(d)[Number(index)]) return null
  if (name === 'fit-kind') return fitKindMenu(Number(index), d)
  if (name === 'fit-for') return fitForMenu(Number(index), d, columns)
  if (name === 'fit-band') return bandMenu(Number(index), d)
  return null
}

export interface Addition {
  key: string
  label: string
  detail: string
  also?: string
  /** The sentence with the clause, or the word that opens to say the rest. */
  document?: Document
  opens?: string
}

/** What can be said next, most useful first. */
export function additions(d: Document, columns: ColumnProfile[]): Addition[] {
  const column = (name?: string) => columns.find((c) => c.name === name)
  const [x, y] = [column(d.x), column(d.y)]
  const list: Addition[] = []
  const fittable = x && y && [x, y].every((c) => isNumeric(c) || c.kind === 'yes / no')
  if (!d.colour) list.push({ key: 'colour', label: 'colour by …', detail: 'groups or numbers by colour', opens: 'colour', also: 'color group hue' })
  if (fittable && !d.fits?.length) list.push({ key: 'fit', label: 'fit a straight line', detail: 'with its 95 % confidence band', also: 'regression trend slope', document: { ...d, fits: [{ kind: 'line', overall: true, band: { kind: 'confidence', level: 95 } }] } })
  if (!d.log_x && x?.kind === 'number' && Number(x.high) > 0) list.push({ key: 'log x', label: 'log x', detail: `${x.prose} on a log scale`, also: 'logarithmic', document: { ...d, log_x: true } })
  if (!d.log_y && y?.kind === 'number' && Number(y.high) > 0) list.push({ key: 'log y', label: 'log y', detail: `${y.prose} on a log scale`, also: 'logarithmic', document: { ...d, log_y: true } })
  if (!d.size) list.push({ key: 'size', label: 'size by …', detail: 'numbers by the area of marks', opens: 'size', also: 'bubble area' })
  if (!d.shape) list.push({ key: 'shape', label: 'shape by …', detail: 'groups by the shape of marks', opens: 'shape', also: 'marker symbol' })
  fits(d).forEach((fit, i) => {
    if (!fit.band && fit.kind !== 'robust line') list.push({ key: `band ${i}`, label: 'with a 95 % confidence band', detail: 'where the mean may lie', document: withFit(d, i, { band: { kind: 'confidence', level: 95 } }) })
    if (fit.kind === 'line' && !fit.leaving_out_outliers) list.push({ key: `outliers ${i}`, label: 'leaving out outliers', detail: 'fit again without far points', document: withFit(d, i, { leaving_out_outliers: true }) })
  })
  if (fittable && d.fits?.length) list.push({ key: 'fit more', label: 'fit a smoothing spline too', detail: 'to judge whether the line is straight', also: 'curve robust smooth spline local', document: { ...d, fits: [...d.fits, { kind: 'spline', overall: true }] } })
  list.push({ key: 'title', label: 'title', detail: 'words over the chart', opens: 'title' })
  list.push({ key: 'limits-x', label: 'x from … to …', detail: 'limits, titles and unit of x', opens: 'limits-x', also: 'axis range minimum maximum' })
  list.push({ key: 'limits-y', label: 'y from … to …', detail: 'limits, titles and unit of y', opens: 'limits-y', also: 'axis range minimum maximum' })
  if (!d.opacity) list.push({ key: 'opacity', label: 'opacity 50 %', detail: 'how much marks cover', also: 'alpha transparency', document: { ...d, opacity: 0.5 } })
  if (x && y) list.push({ key: 'swap', label: 'swap x and y', detail: 'turn the chart on its side', also: 'flip transpose', document: { ...d, x: d.y, y: d.x, log_x: d.log_y, log_y: d.log_x, x_axis: d.y_axis, y_axis: d.x_axis } })
  return list
}
