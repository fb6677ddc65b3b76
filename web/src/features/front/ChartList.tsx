import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type FoundChart, type Refusal } from '../../api/client'
import { counted } from '../../scale/format'
import { useMakes } from '../../ui/may'
import { moment } from '../../ui/moment'
import { Trouble, Waiting } from '../../ui/Words'
import { ChartPicture } from '../chart/ChartPicture'
import { Disc } from '../notes/Thread'
import { isWanted, type State, type Wanted } from './wanted'

/** How many charts are shown before more are asked for. */
const AT_ONCE = 24

/** Charts of a state that are looked for, some at a time. */
function useFound({ state: _, ...wanted }: Wanted, state: State, enabled = true) {
  const found = useInfiniteQuery({
    queryKey: ['charts', 'found', state, wanted],
    queryFn: ({ pageParam, signal }) => api.findCharts({ ...wanted, state, from: pageParam, limit: AT_ONCE }, signal),
    initialPageParam: 0,
    getNextPageParam: (last, all) => {
      const known = all.reduce((sum, part) => sum + part.charts.length, 0)
      return last.charts.length > 0 && known < last.total ? known : undefined
    },
    placeholderData: (before) => before,
    enabled,
  })
  const pages = (enabled && found.data?.pages) || []
  return { found, charts: pages.flatMap((p) => p.charts), total: pages[0]?.total ?? 0 }
}

/** The charts that somebody named, shared, wrote on or put on a page, and under them what was tried. */
export function ChartList({ wanted, tryDays }: { wanted: Wanted; tryDays: number }) {
  const queries = useQueryClient()
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [open, setOpen] = useState(false)
  const above = wanted.state === 'try' ? 'kept' : wanted.state
  const kept = useFound(wanted, above, wanted.state !== 'try')
  const tries = useFound(wanted, 'try', wanted.state !== 'shared')
  const makes = useMakes()
  const then = async (work: Promise<unknown>) => {
    setTrouble(null)
    try {
      await work
      await queries.invalidateQueries({ queryKey: ['charts'] })
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  const ways = (chart: FoundChart, tried: boolean): Way[] =>
    !makes
      ? []
      : [
          ...(tried ? [{ name: 'Keep', run: () => void then(api.renameChart(chart.id, chart.name)) }] : []),
          { name: 'Duplicate', run: () => void then(api.copyChart(chart.id, `Copy of ${chart.name}`.slice(0, 300))) },
          {
            name: 'Delete',
            run: () => {
              if (confirm(`Delete the chart “${chart.name}” with its trail? Shared copies stay.`)) void then(api.dropChart(chart.id))
            },
          },
        ]
  const fault = kept.found.error ?? tries.found.error
  if (fault) return <Trouble message={fault.message} />
  if (kept.found.isLoading || tries.found.isLoading) return <Waiting what="Looking for charts" />
  const looked = isWanted(wanted)
  if (kept.total + tries.total === 0)
    return (
      <p className="text-muted">{looked ? 'No chart is found.' : 'No charts yet. Open a dataset below, and its first look is a chart.'}</p>
    )
  const shown = open || looked
  return (
    <>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      {looked && (
        <p className="mb-3 text-[13px] text-muted" role="status">
          {counted(kept.total + tries.total, 'chart')}
        </p>
      )}
      {kept.total > 0 ? (
        <Grid {...kept} ways={(chart) => ways(chart, false)} />
      ) : (
        !looked && <p className="text-muted">No chart has a name yet, and none is shared.</p>
      )}
      {tries.total > 0 && (
        <section aria-label="Tries" className="mt-6">
          <h3 className="mb-3 flex items-baseline gap-3">
            <button
              type="button"
              className="font-serif text-base font-semibold hover:text-copper"
              aria-expanded={shown}
              onClick={() => setOpen(!open)}
            >
              <span aria-hidden className="mr-1.5 inline-block w-3 text-muted">
                {shown ? '▾' : '▸'}
              </span>
              Tries
            </button>
            <span className="text-[13px] text-muted">
              {counted(tries.total, 'chart')} that nobody named, shared or wrote on; what you keep or name stands above
              {tryDays > 0 && `, what is not changed for ${counted(tryDays, 'day')} goes`}
            </span>
          </h3>
          {shown && <Grid {...tries} ways={(chart) => ways(chart, true)} />}
        </section>
      )}
    </>
  )
}

function Grid({ charts, total, found, ways }: ReturnType<typeof useFound> & { ways: (chart: FoundChart) => Way[] }) {
  return (
    <>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-4">
        {charts.map((chart) => (
          <ChartTile key={chart.id} chart={chart} ways={ways(chart)} />
        ))}
      </ul>
      {found.hasNextPage && (
        <button
          type="button"
          className="link mt-3 text-[13px]"
          disabled={found.isFetchingNextPage}
          onClick={() => void found.fetchNextPage()}
        >
          {found.isFetchingNextPage ? 'Looking …' : `${charts.length} of ${counted(total, 'chart')}: more`}
        </button>
      )}
    </>
  )
}

/** What can be done with a chart. */
interface Way {
  name: string
  run: () => void
}

function ChartTile({ chart, ways }: { chart: FoundChart; ways: Way[] }) {
  return (
    <li className="group relative overflow-hidden rounded-xl border border-line bg-paper hover:border-copper">
      <Link to={`/dataset/${chart.dataset_id}/chart/${chart.id}`} className="block">
        <ChartPicture chart={chart.id} step={chart.head_step_id} version={chart.version_id} width={256} height={140} />
        <span className="block border-t border-line bg-strip px-3 py-2">
          <span className="flex items-center gap-2">
            <span className="min-w-0 flex-1 truncate font-semibold">{chart.name}</span>
            {chart.notes > 0 && (
              <span title={counted(chart.notes, 'open note')}>
                <Disc number={chart.notes} />
                <span className="sr-only">{counted(chart.notes, 'open note')}</span>
              </span>
            )}
          </span>
          <span className="block truncate text-[13px] text-muted">{chart.dataset_name}</span>
          <span className="block truncate text-[13px] text-muted">{[chart.by, moment(chart.changed_at)].filter(Boolean).join(' · ')}</span>
        </span>
      </Link>
      <span className="absolute top-2 right-2 hidden gap-1 group-focus-within:flex group-hover:flex">
        {ways.map((way) => (
          <button
            key={way.name}
            type="button"
            aria-label={`${way.name} ${chart.name}`}
            className="rounded-md border border-line bg-strip px-2 py-0.5 text-xs hover:text-copper"
            onClick={way.run}
          >
            {way.name}
          </button>
        ))}
      </span>
    </li>
  )
}
