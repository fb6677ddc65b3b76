import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { api, type Schemas } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { KindSign } from '../../ui/KindSign'
import { Trouble, Waiting } from '../../ui/Words'
import { AskBeside, exactOf } from '../elsewhere/AskBeside'
import { OneBasis } from '../../ui/BasisSign'

type Summaries = Schemas['ColumnSummaries']

const NUMBERS = ['mean', 'sd', 'min', 'q1', 'median', 'q3', 'max', 'skew'] as const
const TITLES: Record<(typeof NUMBERS)[number], string> = {
  mean: 'Mean',
  sd: 'Standard deviation',
  min: 'Minimum',
  q1: 'Lower quartile',
  median: 'Median',
  q3: 'Upper quartile',
  max: 'Maximum',
  skew: 'Skew',
}

type Column = NonNullable<Summaries['columns']>[number]

/** Every column in numbers. */
export function Summary({
  version,
  typed,
  find,
  sample,
  asks,
}: {
  version: number
  typed: string
  find: string
  /** How many rows the sample has, where the table stays elsewhere. */
  sample: string
  /** Whether all rows of such a table may be asked. */
  asks: boolean
}) {
  const asker = useMemo(() => ({ version, refresh: () => {} }), [version])
  const summary = useQuery({ queryKey: ['summary', version, typed], queryFn: () => api.summary(version, typed), staleTime: Infinity })
  const wanted = find.trim().toLowerCase()
  if (summary.error) return <Trouble message={summary.error.message} />
  if (!summary.data) return <Waiting what="Summing up the columns" />
  const { elsewhere } = summary.data
  const columns = summary.data.columns ?? []
  return (
    <>
      {elsewhere && (
        <div className="mb-2">
          <AskBeside
            bench={asker}
            whole={elsewhere}
            asker={{ for: 'summary' }}
            exact={exactOf(columns.map((c) => (c.sampled ? 'part' : c.basis)))}
            sample={sample}
            asks={asks}
          />
        </div>
      )}
      <div className="min-h-0 flex-1 overflow-auto rounded-xl border border-line bg-paper" tabIndex={0} role="region" aria-label="Summary">
        <table className="w-full text-left text-[13px] tabular-nums">
          <thead className="sticky top-0 bg-strip text-muted">
            <tr>
              <th scope="col" className="px-3 py-2 font-normal">
                Column
              </th>
              {['Rows', 'Missing', 'Distinct', ...NUMBERS.map((n) => TITLES[n])].map((title) => (
                <th key={title} scope="col" className="px-3 py-2 text-right font-normal">
                  {title}
                </th>
              ))}
              <th scope="col" className="px-3 py-2 font-normal">
                Most frequent, or most correlated (r)
              </th>
            </tr>
          </thead>
          <tbody>
            {columns
              .filter((c) => `${c.column} ${c.label}`.toLowerCase().includes(wanted))
              .map((c) => (
                <tr key={c.column} className="border-t border-line align-top">
                  <th scope="row" className="px-3 py-2 font-normal whitespace-nowrap">
                    <span className="flex items-center gap-2 text-sm font-semibold">
                      <KindSign kind={c.kind} />
                      {c.label}
                    </span>
                    {c.unit && <span className="ml-6 text-muted">{c.unit}</span>}
                  </th>
                  <td className="px-3 py-2 text-right whitespace-nowrap">
                    {formatNumber(c.n, 0)} <OneBasis basis={c.basis} sample={sample} />
                  </td>
                  <td className={`px-3 py-2 text-right ${c.missing ? 'text-copper' : 'text-muted'}`}>{formatNumber(c.missing, 0)}</td>
                  <td className="px-3 py-2 text-right whitespace-nowrap">
                    {formatNumber(c.distinct, 0)} <Sampled of={c} field="distinct" sample={sample} />
                  </td>
                  {NUMBERS.map((n) => (
                    <td key={n} className="px-3 py-2 text-right whitespace-nowrap" title={n === 'skew' ? c.advice : undefined}>
                      {c[n]} {c[n] && <Sampled of={c} field={n} sample={sample} />}
                      {n === 'skew' && c.advice && <span className="text-copper"> ↗</span>}
                    </td>
                  ))}
                  <td className="max-w-72 px-3 py-2">
                    {c.advice && <span className="block text-copper">{c.advice}</span>}
                    {(c.goes_with?.length || c.top?.length) && (
                      <Sampled of={c} field={c.top?.length ? 'top' : 'goes_with'} sample={sample} />
                    )}{' '}
                    {(c.goes_with ?? []).map((other) => (
                      <span key={other.label} className="mr-3 inline-block">
                        {other.label} <span className="text-muted">{other.r}</span>
                      </span>
                    ))}
                    {(c.top ?? []).map((bar) => (
                      <span key={bar.name} className="mr-3 inline-block max-w-60 truncate align-top">
                        {bar.name} <span className="text-muted">{formatNumber(bar.count, 0)}</span>
                      </span>
                    ))}
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </div>
    </>
  )
}

/** The sign of a number that is of the sample, in a row that is of all rows otherwise. */
const Sampled = ({ of, field, sample }: { of: Column; field: string; sample: string }) =>
  of.sampled?.includes(field) ? <OneBasis basis="sample" sample={sample} /> : null
