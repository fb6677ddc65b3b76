import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { useParams } from 'react-router'
import { api, Refusal, type ColumnProfile, type Dataset, type DatasetWithColumns, type Me, type Version } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { ColumnPicture } from '../../ui/ColumnPicture'
import { KindSign } from '../../ui/KindSign'
import { Shell } from '../../ui/Shell'
import { Trouble, Waiting, Words } from '../../ui/Words'
import { printClauses, type Clause } from './clauses'
import { PreparationSentence } from './Preparation'
import { Rows } from './Rows'
import { Summary } from './Summary'
import { TypePreparation } from './TypePreparation'

/** The Data view: the sentence of preparation over the rows. */
export function DataPage({ me }: { me: Me }) {
  const id = Number(useParams().dataset)
  const data = useQuery({ queryKey: ['dataset', id], queryFn: () => api.dataset(id) })
  const versions = useQuery({ queryKey: ['versions', id], queryFn: () => api.versions(id) })
  const fault = data.error ?? versions.error
  if (fault) return <Words title="This dataset cannot be opened" text={fault.message} />
  // Just after a version was kept, one of the two answers is older than the other.
  if (!data.data || !versions.data || versions.data[0].id !== data.data.dataset.version_id) return <Waiting what="Opening the dataset" />
  return <OpenData key={data.data.dataset.version_id} me={me} data={data.data} versions={versions.data} />
}

function OpenData({ me, data, versions }: { me: Me; data: DatasetWithColumns; versions: Version[] }) {
  const queries = useQueryClient()
  const { dataset } = data
  const newest = versions[0]
  const base = versions.find((v) => v.id === newest.prepared_from) ?? newest
  const kept = (newest.preparation ?? []) as Clause[]
  const [clauses, setClauses] = useState<Clause[]>(kept)
  const [typing, setTyping] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const typed = printClauses(clauses)
  const changed = typed !== printClauses(kept)
  const prepared = useQuery({ queryKey: ['prepared', base.id, typed], queryFn: ({ signal }) => api.prepare(base.id, typed, signal), enabled: clauses.length > 0, placeholderData: keepPreviousData, staleTime: Infinity })
  const original = useQuery({ queryKey: ['prepared', base.id, ''], queryFn: () => api.prepare(base.id, ''), enabled: base.id !== newest.id, staleTime: Infinity })
  const result = clauses.length > 0 ? prepared.data : original.data
  const shown = changed && result ? (result.columns ?? []) : (data.columns ?? [])
  const count = changed && result ? result.rows : dataset.rows
  const keep = async () => {
    setTrouble(null)
    try {
      await api.keepPreparation(base.id, typed)
      await Promise.all([['dataset', dataset.id], ['versions', dataset.id], ['datasets']].map((queryKey) => queries.invalidateQueries({ queryKey })))
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  const mistake = changed ? prepared.data?.mistake : undefined
  return (
    <Shell me={me} dataset={dataset}>
      <section aria-label="Sentence" className="flex shrink-0 items-start gap-6 border-b border-line bg-strip px-5.5 py-2.5">
        {typing ? (
          <TypePreparation clauses={clauses} result={prepared.data} change={setClauses} done={() => setTyping(false)} />
        ) : (
          <>
            <PreparationSentence fileName={dataset.file_name} rows={base.rows} columnCount={base.id === newest.id ? dataset.columns : (original.data?.columns ?? []).length} clauses={clauses} result={prepared.data} change={setClauses} />
            <button type="button" className="button-plain shrink-0 text-[13px]" onClick={() => setTyping(true)}>
              Type it
            </button>
          </>
        )}
      </section>
      {(changed || mistake || trouble) && (
        <div className="flex shrink-0 items-center gap-3 border-b border-line bg-strip px-5.5 py-2">
          {mistake && !typing && <Trouble message={mistake.message} advice={mistake.advice} />}
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          <p className="ml-auto text-[13px] text-muted">What you see is tried, not kept. Charts stay on their version until you move them.</p>
          <button type="button" className="button-plain" onClick={() => setClauses(kept)}>
            Leave as it was
          </button>
          <button type="button" className="button-bright" disabled={Boolean(prepared.data?.mistake) || prepared.isFetching || clauses.length === 0} onClick={keep}>
            Keep as version {newest.number + 1}
          </button>
        </div>
      )}
      <Tabs.Root defaultValue="rows" asChild>
        <main className="flex min-h-0 flex-1 flex-col gap-3 px-5.5 py-3">
          <div className="flex items-center gap-4">
            <Tabs.List aria-label="What to see of the data" className="flex overflow-hidden rounded-lg border border-line bg-strip">
              {[['rows', 'Rows'], ['summary', 'Summary']].map(([tab, name]) => (
                <Tabs.Trigger key={tab} value={tab} className="px-4 py-1.5 hover:text-copper data-[state=active]:bg-bar data-[state=active]:font-semibold data-[state=active]:text-bar-ink">
                  {name}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            <p className="shrink-0 text-[13px] tabular-nums">
              {formatNumber(count, 0)} rows · {shown.length} columns{versions.length > 1 && !changed && ` · version ${newest.number}`}
            </p>
            <p className="min-w-0 flex-1 truncate text-[13px] text-muted">{about(dataset, shown)}</p>
            <p className="shrink-0 text-[13px]">
              Download{' '}
              <a className="link" href={`/api/versions/${dataset.version_id}/table/csv`} download>
                CSV
              </a>{' '}
              ·{' '}
              <a className="link" href={`/api/versions/${dataset.version_id}/table/jsonl`} download>
                JSON lines
              </a>
            </p>
          </div>
          <Tabs.Content value="rows" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            <Rows
              version={dataset.version_id}
              count={changed && result ? Math.min(result.rows, (result.first ?? []).length) : dataset.rows}
              rows={changed && result ? ((result.first ?? []) as string[][]) : undefined}
              columns={shown}
              head={(c) => <ColumnHead column={c} rows={count} />}
            />
          </Tabs.Content>
          <Tabs.Content value="summary" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            {changed && <p className="mb-2 text-[13px] text-muted">The summary is of the kept version.</p>}
            <Summary version={dataset.version_id} />
          </Tabs.Content>
        </main>
      </Tabs.Root>
    </Shell>
  )
}

function about(dataset: Dataset, columns: ColumnProfile[]): string {
  const missing = columns.reduce((sum, c) => sum + c.missing, 0)
  return [dataset.about, missing === 0 ? 'No value is missing.' : `${formatNumber(missing, 0)} values are missing.`].filter(Boolean).join(' ')
}

const PLAIN_NUMBER = /^-?\d+(\.\d+)?$/

function written(text: string): string {
  if (!PLAIN_NUMBER.test(text)) return text
  return formatNumber(Number(text), Math.min((text.split('.')[1] ?? '').length, 8))
}

function rangeOf(c: ColumnProfile): string {
  if (c.kind === 'text') return `${formatNumber(c.distinct, 0)} different`
  if (c.kind === 'number') return c.low ? `${written(c.low)} – ${written(c.high!)}` : 'no values'
  if (c.kind === 'date') return c.low ? `${c.low} – ${c.high}` : 'no values'
  if (c.kind === 'yes / no') {
    const bars = c.bars ?? []
    const all = bars.reduce((sum, b) => sum + b.count, 0)
    return all ? `${Math.round((100 * (bars[1]?.count ?? 0)) / all)} % yes` : 'no values'
  }
  return `${c.distinct} ${c.distinct === 1 ? 'group' : 'groups'}`
}

function ColumnHead({ column, rows }: { column: ColumnProfile; rows: number }) {
  const share = rows === 0 ? 0 : column.missing / rows
  return (
    <div className="flex h-full flex-col text-[13px]" title={column.meaning}>
      <span className="truncate text-sm font-semibold">{column.label}</span>
      <span className="flex items-center gap-1.5 truncate text-copper">
        <KindSign kind={column.kind} className="size-3.5" />
        {column.kind}
        {column.unit && ` · ${column.unit}`}
      </span>
      <span className="truncate text-muted tabular-nums">{rangeOf(column)}</span>
      <span className="mt-1 block h-9">
        <ColumnPicture column={column} width={118} height={34} named />
      </span>
      <span className="mt-auto block h-1 overflow-hidden rounded-full bg-line" title={column.missing ? `${formatNumber(column.missing, 0)} missing (${(100 * share).toFixed(1)} %)` : 'none missing'}>
        <span className="block h-full bg-copper" style={{ width: `${share > 0 ? Math.max(2, 100 * share) : 0}%` }} />
      </span>
      <span className="mt-0.5 text-xs text-muted">{column.missing ? `${formatNumber(column.missing, 0)} missing` : 'none missing'}</span>
    </div>
  )
}
