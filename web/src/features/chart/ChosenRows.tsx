import { useQuery } from '@tanstack/react-query'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { api, type Document } from '../../api/client'
import type { Figure } from '../../figure/figure'
import { formatNumber } from '../../scale/format'
import type { Bench } from '../../state/bench'

type Chosen = NonNullable<Document['chosen']>

/** The most rows that can be chosen by hand, as the sentence takes them. */
const MOST = 2000

/** Over the chart, so that nothing moves when rows are chosen. */
const PLACE =
  'absolute top-2 left-1/2 z-2 -translate-x-1/2 rounded-full border border-line bg-strip px-4 py-1 text-[13px] whitespace-nowrap shadow-md'

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
  const say = async (change: Partial<Document>) => (await bench.change({ ...document, ...change })) && done()
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
      <button type="button" className="link" onClick={() => void say({ chosen: only })}>
        Only these
      </button>
      <button type="button" className="link" onClick={() => void say({ chosen: rest })}>
        Without these
      </button>
      {(document.label?.with ?? heading) && (
        <button
          type="button"
          className="link"
          onClick={() => void say({ label: { with: (document.label?.with ?? heading)!, rows: numbers } })}
        >
          Label these
        </button>
      )}
      <WithAndWithout document={document} only={only} without={rest} bench={bench} />
      <button type="button" className="link" onClick={done}>
        Let go
      </button>
    </span>
  )
}

/** The straight line of all rows, of those that were chosen, and without them, one under the other. */
function WithAndWithout({ document, only, without, bench }: { document: Document; only: Chosen; without: Chosen; bench: Bench }) {
  const [open, setOpen] = useState(false)
  const line = (chosen: Chosen | undefined): Document => ({
    version: document.version,
    where: document.where,
    take_out: document.take_out,
    x: document.x,
    y: document.y,
    scales: document.scales,
    chosen,
    layers: [{ mark: 'dots' }, { mark: 'fit', fit: { kind: 'line', overall: true } }],
  })
  const asked = [document.chosen, only, without].map(line)
  const lines = useQuery({
    queryKey: ['with-and-without', bench.version, asked],
    queryFn: ({ signal }) =>
      Promise.all(asked.map(async (document) => (await api.draw(bench.version, { document, width: 300, height: 200 }, signal)).reading)),
    enabled: open,
    staleTime: Infinity,
    retry: false,
  })
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="link">The line with and without</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={8}
          collisionPadding={12}
          className="z-20 rounded-xl border border-line bg-strip px-4 py-3 text-[13px] shadow-2xl outline-none"
        >
          {lines.isPending && <p className="text-muted">Fitting…</p>}
          {lines.error && <p className="text-copper">{lines.error.message}</p>}
          {lines.data && (
            <table className="tabular-nums">
              <thead className="text-muted">
                <tr>
                  <th className="text-left font-normal">Rows</th>
                  <th scope="col" className="pl-5 text-right font-normal">
                    {lines.data[0].slope_unit}
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
                {['all that are drawn', 'these alone', 'without these'].map((name, i) => {
                  const fit = lines.data[i].fits[0]
                  return (
                    <tr key={name}>
                      <th scope="row" className="py-1 text-left font-normal">
                        {name}
                      </th>
                      {!fit || fit.problem ? (
                        <td colSpan={3} className="py-1 pl-5 text-right text-copper">
                          no line{fit?.problem ? `: ${fit.problem}` : ''}
                        </td>
                      ) : (
                        [fit.slope, fit.interval, fit.n].map((value, at) => (
                          <td key={at} className="py-1 pl-5 text-right">
                            {value}
                          </td>
                        ))
                      )}
                    </tr>
                  )
                })}
              </tbody>
            </table>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
