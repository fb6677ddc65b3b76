/** Clauses as the program writes them where something is pressed: the server reads them, and makes the document. */
import type { Document } from '../api/client'
import { valueText } from './quoting'

/** A column as a clause names it: in double quotes, so that no word of the language is meant. */
export const columnSaid = (name: string): string => `"${name.replaceAll('"', '""')}"`

/** A text as a clause holds it, or an empty list where there is none. */
export const textLine = (clause: string, text: string): string[] => (text.trim() ? [`${clause} ${valueText(text.trim())}`] : [])

/** Seconds since 1970 as a clause writes a moment. */
export const momentSaid = (seconds: number): string => {
  const moment = new Date(seconds * 1000).toISOString()
  return valueText(seconds % 86400 === 0 ? moment.slice(0, 10) : moment.slice(0, 19).replace('T', ' '))
}

/** The limits of an axis. */
export const limitsSaid = (from: number, to: number, dates = false): string =>
  dates ? `from ${momentSaid(from)} to ${momentSaid(to)}` : `from ${from} to ${to}`

/** The rows that a chart is of: a condition may be written over several lines, a clause is one. */
export const whereLine = (condition: string): string[] =>
  condition.trim() ? [`of rows where ${condition.trim().replace(/\s*\n\s*/g, ' ')}`] : []

/** Rows that were chosen by hand, counted from 1. */
export const chosenLine = ({ rows, without }: NonNullable<NonNullable<Document['rows']>['chosen']>): string[] =>
  rows?.length ? [`${without ? 'without' : 'only'} rows ${rows.join(', ')}`] : []
