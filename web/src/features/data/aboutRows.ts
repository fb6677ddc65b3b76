import type { SourceTable } from '../../api/client'
import { formatNumber } from '../../scale/format'

/** How many rows a database says that a table has; it reckons, and does not count. */
export const aboutRows = ({ rows }: SourceTable) => (rows < 0 ? 'nobody has counted its rows' : `about ${formatNumber(rows, 0)} rows`)

const UNITS = ['bytes', 'KB', 'MB', 'GB', 'TB', 'PB']

/** A size as people say it: 118 GB. */
export function sizeOf(bytes: number): string {
  const power = Math.min(Math.floor(Math.log10(Math.max(bytes, 1)) / 3), UNITS.length - 1)
  const size = bytes / 1000 ** power
  return `${formatNumber(size, size < 10 && power > 0 ? 1 : 0)} ${UNITS[power]}`
}
