import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Chart, type Refusal } from '../../api/client'
import { counted } from '../../scale/format'
import { useMakes } from '../../ui/may'
import { Trouble } from '../../ui/Words'
import { ChartPicture } from '../chart/ChartPicture'

/** How many charts there are before a search is of use. */
const FEW = 6

/** The charts that somebody named or shared, and under them what was tried. */
export function ChartList({ charts }: { charts: Chart[] }) {
  const queries = useQueryClient()
  const [search, setSearch] = useState('')
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [open, setOpen] = useState(false)
  const makes = useMakes()
  if (charts.length === 0) return <p className="text-muted">No charts yet. Open a dataset below, and its first look is a chart.</p>
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const found = charts.filter((chart) =>
    words.every((w) => `${chart.name} ${chart.dataset_name} ${chart.by ?? ''}`.toLowerCase().includes(w)),
  )
  const kept = found.filter((chart) => chart.named || chart.shared)
  const tries = found.filter((chart) => !chart.named && !chart.shared)
  const then = async (work: Promise<unknown>) => {
    setTrouble(null)
    try {
      await work
      await queries.invalidateQueries({ queryKey: ['charts'] })
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  const ways = (chart: Chart): Way[] =>
    !makes
      ? []
      : [
          ...(chart.named || chart.shared ? [] : [{ name: 'Keep', run: () => void then(api.renameChart(chart.id, chart.name)) }]),
          {
            name: 'Duplicate',
            run: () => void then(api.addChart(chart.version_id, chart.document, `Copy of ${chart.name}`.slice(0, 300))),
          },
          {
            name: 'Delete',
            run: () => {
              if (confirm(`Delete the chart “${chart.name}” with its trail? Shared copies stay.`)) void then(api.dropChart(chart.id))
            },
          },
        ]
  const grid = (list: Chart[]) => (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-4">
      {list.map((chart) => (
        <ChartTile key={chart.id} chart={chart} ways={ways(chart)} />
      ))}
    </ul>
  )
  return (
    <>
      {charts.length > FEW && (
        <div className="mb-4 flex items-baseline gap-3">
          <input
            className="field max-w-80"
            type="search"
            aria-label="Find a chart"
            placeholder="Find a chart"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
          <span className="text-[13px] text-muted" role="status">
            {search && counted(found.length, 'chart')}
          </span>
        </div>
      )}
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      {kept.length > 0 ? grid(kept) : !search && <p className="text-muted">No chart has a name yet, and none is shared.</p>}
      {tries.length > 0 && (
        <section aria-label="Tries" className="mt-6">
          <h3 className="mb-3 flex items-baseline gap-3">
            <button
              type="button"
              className="font-serif text-base font-semibold hover:text-copper"
              aria-expanded={open || search !== ''}
              onClick={() => setOpen(!open)}
            >
              <span aria-hidden className="mr-1.5 inline-block w-3 text-muted">
                {open || search ? '▾' : '▸'}
              </span>
              Tries
            </button>
            <span className="text-[13px] text-muted">
              {counted(tries.length, 'chart')} that nobody named or shared; what you keep or name stands above
            </span>
          </h3>
          {(open || search !== '') && grid(tries)}
        </section>
      )}
    </>
  )
}

/** What can be done with a chart. */
interface Way {
  name: string
  run: () => void
}

function ChartTile({ chart, ways }: { chart: Chart; ways: Way[] }) {
  return (
    <li className="group relative overflow-hidden rounded-xl border border-line bg-paper hover:border-copper">
      <Link to={`/dataset/${chart.dataset_id}/chart/${chart.id}`} className="block">
        <ChartPicture chart={chart.id} step={chart.head_step_id} version={chart.version_id} width={256} height={140} />
        <span className="block border-t border-line bg-strip px-3 py-2">
          <span className="block truncate font-semibold">{chart.name}</span>
          <span className="block truncate text-[13px] text-muted">
            {chart.dataset_name}
            {chart.by && ` · ${chart.by}`}
          </span>
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
