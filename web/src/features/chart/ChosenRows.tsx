import type { Figure } from '../../api/figure'
import { formatNumber } from '../../scale/format'
import type { Bench } from '../../state/bench'

/** The most rows that can be chosen by hand, as the sentence takes them. */
const MOST = 2000

/** Over the chart, so that nothing moves when rows are chosen. */
const PLACE = 'absolute top-2 left-1/2 z-2 -translate-x-1/2 rounded-full border border-line bg-strip px-4 py-1 text-[13px] whitespace-nowrap shadow-md'

/** What can be done with rows that were pressed or drawn around. */
export function ChosenRows({ rows, figure, bench, done }: { rows: number[]; figure: Figure; bench: Bench; done: () => void }) {
  const { document } = bench.get()
  const numbers = rows.map((row) => row + 1) // people count from 1
  const { heading } = figure.card
  const before = document.chosen
  const only = { rows: numbers }
  const without = { rows: before?.without ? [...new Set([...(before.rows ?? []), ...numbers])] : numbers, without: true }
  // Rows that were left out of a choice before are taken out of that choice.
  const rest = before && !before.without ? { rows: (before.rows ?? []).filter((row) => !numbers.includes(row)) } : without
  const said = `${formatNumber(rows.length, 0)} ${rows.length === 1 ? 'row' : 'rows'} chosen`
  if (rows.length > MOST)
    return (
      <p role="status" className={`${PLACE} text-muted`}>
        {said}: up to {formatNumber(MOST, 0)} can be taken by hand. Say of rows where … for more.{' '}
        <button type="button" className="link" onClick={done}>
          let go
        </button>
      </p>
    )
  return (
    <span role="group" aria-label={said} className={`flex gap-3 ${PLACE}`}>
      <span className="text-muted">{said}</span>
      <button type="button" className="link" onClick={() => void bench.change({ ...document, chosen: only })}>
        Only these
      </button>
      <button type="button" className="link" onClick={() => void bench.change({ ...document, chosen: rest })}>
        Without these
      </button>
      {(document.label?.with ?? heading) && (
        <button type="button" className="link" onClick={() => void bench.change({ ...document, label: { with: (document.label?.with ?? heading)!, rows: numbers } })}>
          Label these
        </button>
      )}
      <button type="button" className="link" onClick={done}>
        Let go
      </button>
    </span>
  )
}
