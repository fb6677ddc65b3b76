import type { Note, NoteSpot } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'

type At = NonNullable<NoteSpot['x']>

const DIGITS = 3

/** A value along an axis, in a few digits, with the name and the unit of its column. */
function said(at: At | undefined, known: Known): string {
  if (!at) return ''
  const { name, unit } = known.axis?.(at.column) ?? { name: at.column.replaceAll('_', ' '), unit: '' }
  if (at.number === undefined) return `${name} ${at.group}`
  const decimals = Math.max(0, DIGITS - 1 - Math.floor(Math.log10(Math.abs(at.number) || 1)))
  return [name, formatNumber(at.number, Math.min(decimals, 6)), unit].filter(Boolean).join(' ')
}

/** What is known where a note is shown: names of steps, of groups of rows, of columns. */
export interface Known {
  step?: (id: number) => string | undefined
  group?: (rows: number[]) => string
  column?: (name: string) => string
  block?: (id: string) => string
  /** What the axis of a column is called, and its unit; a date says no number. */
  axis?: (column: string) => { name: string; unit?: string; date: boolean } | undefined
}

/** What a note is on, in words. */
export function onWhat({ spot, now, chart_id, page_id }: Pick<Note, 'spot' | 'now' | 'chart_id' | 'page_id'>, known: Known = {}): string {
  switch (spot.kind) {
    case 'step':
      return known.step ? `step “${known.step(spot.step ?? 0) ?? 'taken out'}”` : 'a step'
    case 'rows': {
      const rows = spot.rows ?? []
      if (rows.length === 1) return spot.keys?.[0] ? spot.keys[0].join(', ') : `row ${formatNumber(rows[0], 0)}`
      const group = known.group?.(now ?? [])
      return counted(rows.length, 'row') + (group ? ` of ${group}` : '')
    }
    case 'mark':
      return spot.mark ?? 'a mark'
    case 'place': {
      const dated = !known.axis || [spot.x, spot.y].some((at) => at && known.axis!(at.column)?.date)
      return dated ? 'a place on the chart' : ['near', [said(spot.x, known), said(spot.y, known)].filter(Boolean).join(', ')].join(' ')
    }
    case 'column':
      return known.column?.(spot.column ?? '') ?? spot.column ?? ''
    case 'paragraph':
      return known.block?.(spot.block ?? '') ?? 'a block'
    default:
      return chart_id ? 'the chart' : page_id ? 'the page' : 'the dataset'
  }
}

/** What is wrong with where a note stands: rows that are gone, or cannot be followed; empty: nothing. */
export function astray({ spot, gone, lost }: Pick<Note, 'spot' | 'gone' | 'lost'>): string {
  if (lost) return `Its rows cannot be followed to this version: ${lost}.`
  if (!gone?.length) return ''
  const named = gone.slice(0, 3).join('; ') + (gone.length > 3 ? ` and ${gone.length - 3} more` : '')
  return gone.length === (spot.rows?.length ?? 0)
    ? `${gone.length === 1 ? 'Its row is' : 'Its rows are'} not in this version: ${named}.`
    : `Not in this version any more: ${named}.`
}
