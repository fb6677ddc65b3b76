import type { PairColumn } from '../../api/pairs'

/** Where a value stands along a square, from 0 to 1; null where it stands nowhere. */
export function placeIn({ from, to, log }: PairColumn, value: number | null, margin: number): number | null {
  if (value === null || from === undefined || to === undefined || (log && value <= 0)) return null
  const of = log ? Math.log10 : (v: number) => v
  const share = margin + ((1 - 2 * margin) * (of(value) - of(from))) / (of(to) - of(from))
  return share >= 0 && share <= 1 ? share : null
}
