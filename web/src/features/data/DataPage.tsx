import { useQuery } from '@tanstack/react-query'
import { Tabs } from 'radix-ui'
import { useParams } from 'react-router'
import { api, type ColumnProfile, type Dataset, type Me } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { ColumnPicture } from '../../ui/ColumnPicture'
import { KindSign } from '../../ui/KindSign'
import { Shell } from '../../ui/Shell'
import { Waiting, Words } from '../../ui/Words'
import { Rows } from './Rows'
import { Summary } from './Summary'

/** The Data view: the sentence of preparation over the rows. */
export function DataPage({ me }: { me: Me }) {
  const id = Number(useParams().dataset)
  const data = useQuery({ queryKey: ['dataset', id], queryFn: () => api.dataset(id) })
  if (data.error) return <Words title="This dataset cannot be opened" text={data.error.message} />
  if (!data.data) return <Waiting what="Opening the dataset" />
  const { dataset } = data.data
  const columns = data.data.columns ?? []
  return (
    <Shell me={me} dataset={dataset}>
      <section aria-label="Sentence" className="flex shrink-0 items-baseline gap-6 border-b border-line bg-strip px-5.5 py-3">
        <p className="font-serif text-[21px] leading-[34px]">
          Take <span className="font-semibold">{dataset.file_name}</span>{' '}
          <span className="rounded-full bg-verdigris-wash px-2.5 py-0.5 align-middle font-sans text-xs font-medium text-ink">
            {formatNumber(dataset.rows, 0)} rows, {columns.length} columns
          </span>
          .
        </p>
      </section>
      <Tabs.Root defaultValue="rows" asChild>
        <main className="flex min-h-0 flex-1 flex-col gap-3 px-5.5 py-3">
          <div className="flex items-center gap-4">
            <Tabs.List aria-label="What to see of the data" className="flex overflow-hidden rounded-lg border border-line bg-strip">
              {['rows', 'summary'].map((tab) => (
                <Tabs.Trigger key={tab} value={tab} className="px-4 py-1.5 capitalize hover:text-copper data-[state=active]:bg-bar data-[state=active]:font-semibold data-[state=active]:text-bar-ink">
                  {tab}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            <p className="text-[13px] text-muted">{about(dataset, columns)}</p>
          </div>
          <Tabs.Content value="rows" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
            <Rows version={dataset.version_id} count={dataset.rows} columns={columns} head={(c) => <ColumnHead column={c} rows={dataset.rows} />} />
          </Tabs.Content>
          <Tabs.Content value="summary" className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden">
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
