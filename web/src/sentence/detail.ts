import { formatNumber } from '../scale/format'
import { inForm } from '../scale/said'
import { isAmount } from '../ui/kinds'
import type { ColumnProfile } from '../api/client'

/** What a column's second line says: its groups, unit or range. */
export function columnDetail(c: ColumnProfile): string {
  const said = (text: string) => (c.form ? inForm(c.form, Number(text), text) : text)
  if (isAmount(c.kind)) return c.unit || (c.low ? `${said(c.low)} to ${said(c.high!)}` : '')
  if (c.kind === 'date') return c.low ? `${c.low} to ${c.high}` : ''
  if (c.kind === 'text') return `${c.distinct} different`
  return c.kind === 'yes / no' ? 'yes / no' : `${c.distinct} groups`
}

/** A column as it is read out, named once: its kind, its unit or range, and what is missing. */
export function columnSaid(c: ColumnProfile, name = c.label): string {
  const detail = columnDetail(c)
  return [name, c.kind, detail === c.kind ? '' : detail, c.missing ? `${formatNumber(c.missing, 0)} missing` : '']
    .filter(Boolean)
    .join(', ')
}
