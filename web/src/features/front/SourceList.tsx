import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Dataset, type ListedSource, type Refusal, type SourceTable } from '../../api/client'
import { counted } from '../../scale/format'
import { moment } from '../../ui/moment'
import { Trouble } from '../../ui/Words'
import { aboutRows, sizeOf } from '../data/aboutRows'
import { TakeRows } from './TakeRows'

/** Tables that stay in databases of the team's own: what is known of each, and rows of it for a press. */
export function SourceList({ find, decided }: { find: string; decided: (dataset: Dataset) => void }) {
  const { data: sources } = useQuery({ queryKey: ['sources'], queryFn: api.sources, staleTime: 60_000 })
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [charted, chart] = useState<{ of: string; stop: AbortController; fault?: Refusal } | null>(null)
  const chartIt = async (source: string, table: string) => {
    const stop = new AbortController()
    const of = `${source} ${table}`
    chart({ of, stop })
    try {
      const dataset = await api.chartStaying({ source, table }, stop.signal)
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      void navigate(`/dataset/${dataset.id}/chart`)
    } catch (fault) {
      chart(stop.signal.aborted ? null : { of, stop, fault: fault as Refusal })
    }
  }
  const [taken, take] = useState<{ source: string; table: SourceTable } | null>(null)
  const words = find.toLowerCase().split(/\s+/).filter(Boolean)
  const found = (sources ?? []).flatMap((s: ListedSource) => {
    const tables = s.tables.filter((t) => words.every((w) => `${s.name} ${t.name} ${t.meaning ?? ''}`.toLowerCase().includes(w)))
    return tables.length > 0 || (s.trouble && words.length === 0) ? [{ ...s, tables }] : []
  })
  if (found.length === 0) return null
  return (
    <section aria-label="Tables that stay elsewhere">
      <h2 className="mb-3 font-serif text-xl font-semibold">Tables that stay elsewhere</h2>
      <div className="flex flex-col gap-4">
        {found.map((s) => (
          <div key={s.name} className="overflow-hidden rounded-xl border border-line bg-paper">
            <h3 className="border-b border-line bg-strip px-4 py-2 text-[13px] text-muted">
              In the database <strong className="font-semibold text-ink">{s.name}</strong>
            </h3>
            {s.trouble && (
              <div className="p-3">
                <Trouble message={s.trouble} advice={s.advice} />
              </div>
            )}
            <ul>
              {s.tables.map((table) => (
                <Row
                  key={table.name}
                  table={table}
                  take={() => take({ source: s.name, table })}
                  chart={() => void chartIt(s.name, table.name)}
                  charted={charted?.of === `${s.name} ${table.name}` ? charted : null}
                  leave={() => {
                    charted?.stop.abort()
                    chart(null)
                  }}
                />
              ))}
            </ul>
          </div>
        ))}
      </div>
      {taken && (
        <TakeRows
          {...taken}
          close={() => take(null)}
          kept={(dataset) => {
            take(null)
            decided(dataset)
          }}
        />
      )}
    </section>
  )
}

function Row({
  table,
  take,
  chart,
  charted,
  leave,
}: {
  table: SourceTable
  take: () => void
  chart: () => void
  /** It is on its way to be charted, or could not be. */
  charted: { fault?: Refusal } | null
  leave: () => void
}) {
  const cell = 'shrink-0 text-right text-muted tabular-nums slim:text-left'
  return (
    <li
      aria-label={table.name}
      className="flex flex-wrap items-center gap-x-8 gap-y-1 border-b border-line px-4 py-2.5 last:border-0 hover:bg-strip"
    >
      <div className="min-w-0 flex-1 basis-64 wrap-anywhere">
        <span className="font-semibold">{table.name}</span>
        {table.meaning && <p className="line-clamp-2 text-[13px] text-muted">{table.meaning}</p>}
        {table.trouble && <p className="text-[13px] text-copper">{table.trouble}</p>}
      </div>
      {!table.trouble && (
        <>
          <p className={`w-52 ${cell}`}>
            {aboutRows(table)}
            {table.as_of && <span className="block text-[13px]">as of {moment(table.as_of)}</span>}
          </p>
          <p className={`w-28 ${cell}`}>
            {counted(table.columns, 'column')}
            {table.bytes > 0 && <span className="block text-[13px]">{sizeOf(table.bytes)}</span>}
          </p>
          <span className="flex shrink-0 gap-4">
            {charted && !charted.fault ? (
              <>
                <span role="status" className="text-muted">
                  Drawing a sample…
                </span>
                <button type="button" className="link" onClick={leave}>
                  Stop
                </button>
              </>
            ) : (
              <button
                type="button"
                className="link"
                onClick={chart}
                aria-label={`Chart ${table.name} where it is`}
                title="A sample is drawn at once, and all rows are asked for what the chart needs"
              >
                Chart it
              </button>
            )}
            <button type="button" className="link" onClick={take} aria-label={`Take rows of ${table.name}`}>
              Take rows…
            </button>
          </span>
          {charted?.fault && (
            <div className="basis-full">
              <Trouble message={charted.fault.message} advice={charted.fault.advice} />
            </div>
          )}
        </>
      )}
    </li>
  )
}
