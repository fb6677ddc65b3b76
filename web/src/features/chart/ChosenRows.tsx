import { useQuery } from '@tanstack/react-query'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { api, type Document } from '../../api/client'
import type { Figure } from '../../figure/figure'
import { formatNumber } from '../../scale/format'
import { chosenLine, columnSaid } from '../../sentence/lines'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { over } from '../../ui/over'

type Chosen = NonNullable<NonNullable<Document['rows']>['chosen']>

/** The most rows that can be chosen by hand, as the sentence takes them. */
const MOST = 2000

/** Over the chart, so that nothing moves when rows are chosen. */
const PLACE =
  'absolute top-2 left-1/2 z-2 -translate-x-1/2 rounded-full border border-line bg-strip px-4 py-1 text-[13px] whitespace-nowrap shadow-md'

/** What can be done with rows that were pressed or drawn around. */
export function ChosenRows({
  rows,
  figure,
  bench,
  done,
  note,
}: {
  rows: number[]
  figure: Figure
  bench: Bench
  done: () => void
  /** Begins a note on them. */
  note?: () => void
}) {
  const { document } = useBench(bench, 'document')
  const numbers = rows.map((row) => row + 1) // people count from 1
  const { heading } = figure.card
  const before = document.rows?.chosen
  const only = { rows: numbers }
  const without = { rows: before?.without ? [...new Set([...(before.rows ?? []), ...numbers])] : numbers, without: true }
  // Rows that were left out of a choice before are taken out of that choice.
  const rest = before && !before.without ? { rows: (before.rows ?? []).filter((row) => !numbers.includes(row)) } : without
  const chosen = async (rows: Chosen) => (await bench.amend({ drop: ['only rows', 'without rows'], say: chosenLine(rows) })) && done()
  const labelled = document.label?.with ?? heading
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
      <button type="button" className="link" onClick={() => void chosen(only)}>
        Only these
      </button>
      <button type="button" className="link" onClick={() => void chosen(rest)}>
        Without these
      </button>
      {labelled && (
        <button
          type="button"
          className="link"
          onClick={async () => (await bench.amend({ say: [`label rows ${numbers.join(', ')} with ${columnSaid(labelled)}`] })) && done()}
        >
          Label these
        </button>
      )}
      {note && (
        <button type="button" className="link" onClick={note}>
          Note…
        </button>
      )}
      <WithAndWithout document={document} rows={numbers} bench={bench} />
      <button type="button" className="link" onClick={done}>
        Let go
      </button>
    </span>
  )
}

/** The straight line of all rows, of those that were chosen, and without them, one under the other. */
function WithAndWithout({ document, rows, bench }: { document: Document; rows: number[]; bench: Bench }) {
  const [open, setOpen] = useState(false)
  const found = useQuery({
    queryKey: ['with-and-without', bench.version, document, rows],
    queryFn: ({ signal }) => api.withAndWithout(bench.version, document, rows, signal),
    enabled: open,
    staleTime: Infinity,
    retry: false,
  })
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="link">The line with and without</Popover.Trigger>
      <Popover.Portal container={over()}>
        <Popover.Content
          aria-label="With and without the chosen rows"
          sideOffset={8}
          collisionPadding={12}
          className="z-20 rounded-xl border border-line bg-strip px-4 py-3 text-[13px] shadow-2xl outline-none"
        >
          {found.isPending && <p className="text-muted">Fitting…</p>}
          {found.error && <p className="text-copper">{found.error.message}</p>}
          {found.data && (
            <table className="tabular-nums">
              <thead className="text-muted">
                <tr>
                  <th className="text-left font-normal">Rows</th>
                  <th scope="col" className="pl-5 text-right font-normal">
                    {found.data.unit}
                  </th>
                  <th scope="col" className="pl-5 text-right font-normal">
                    95 % interval
                  </th>
                  <th scope="col" className="pl-5 text-right font-normal">
                    n
                  </th>
                </tr>
              </thead>
              <tbody>
                {found.data.lines?.map((line) => (
                  <tr key={line.name}>
                    <th scope="row" className="py-1 text-left font-normal">
                      {line.name}
                    </th>
                    {line.problem ? (
                      <td colSpan={3} className="py-1 pl-5 text-right text-copper">
                        no line: {line.problem}
                      </td>
                    ) : (
                      [line.slope, line.interval, line.n].map((value, at) => (
                        <td key={at} className="py-1 pl-5 text-right">
                          {value}
                        </td>
                      ))
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
