import type { ColumnProfile } from '../api/client'

/** What a column's second line says: its groups, unit or range. */
export function columnDetail(c: ColumnProfile): string {
  if (c.kind === 'number') return c.unit || (c.low ? `${c.low} to ${c.high}` : '')
  if (c.kind === 'date') return c.low ? `${c.low} to ${c.high}` : ''
  if (c.kind === 'text') return `${c.distinct} different`
  return c.kind === 'yes / no' ? 'yes / no' : `${c.distinct} groups`
}
