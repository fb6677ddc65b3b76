import type { Dataset } from '../../api/client'
import { formatNumber } from '../../scale/format'

/** Before the sentence: how many rows the table has, and where it stays. */
export function StaysBadge({ stays }: { stays: NonNullable<Dataset['stays']> }) {
  const rows = stays.rows < 0 ? 'a table' : `${stays.about ? 'about ' : ''}${formatNumber(stays.rows, 0)} rows`
  return (
    <span
      className="mr-2 inline-block rounded-full bg-verdigris-wash px-2.5 py-0.5 align-[3px] font-sans text-[13px] leading-4 font-semibold"
      title={`${stays.table} stays there; a sample of it is here`}
    >
      {rows}, in the database {stays.source}
    </span>
  )
}
