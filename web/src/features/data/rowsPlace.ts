/** Rows of a table that stays in a database: which, how many at the most, and by which seed they are drawn. */
export interface RowsPlace {
  source: string
  table: string
  rows: number
  seed: number
  /** Whether charts of them ask all rows of the table. */
  stays?: boolean
}

/** How many rows are proposed, and how many can be taken. */
export const USUAL_ROWS = 1_000_000
export const MOST_ROWS = 20_000_000
export const USUAL_SEED = 42
const MOST_SEED = 999_999_999

/** As an origin says it. */
export const placeOf = ({ source, table, rows, seed, stays }: RowsPlace) =>
  `source:${source}/${table}?rows=${rows}&seed=${seed}${stays ? '&stays=yes' : ''}`

/** What an origin says; null: it is of no database. */
export function rowsAt(place: string): RowsPlace | null {
  const found = /^source:([^/]+)\/(.+)\?rows=(\d+)&seed=(\d+)(&stays=yes)?$/.exec(place)
  return found && { source: found[1], table: found[2], rows: Number(found[3]), seed: Number(found[4]), stays: Boolean(found[5]) }
}

/** What is wrong with typed numbers; empty: nothing. */
export function wrongRows(rows: string, seed: string): string {
  const n = typedNumber(rows)
  if (!(n >= 1 && n <= MOST_ROWS)) return 'How many rows: a whole number from 1 to 20,000,000'
  return typedNumber(seed) <= MOST_SEED ? '' : 'The seed: a whole number of at most nine digits'
}

/** A whole number as people type it, with commas or blanks between its thousands; NaN: it is none. */
export const typedNumber = (typed: string) => {
  const digits = typed.replace(/[\s,  ]/g, '')
  return /^\d+$/.test(digits) ? Number(digits) : NaN
}
