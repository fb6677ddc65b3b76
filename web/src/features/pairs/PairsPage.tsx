import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useLayoutEffect, useRef, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { api, type Dataset, type Me } from '../../api/client'
import type { Figure } from '../../figure/figure'
import type { Pair, PairsFound, PairsWanted } from '../../api/pairs'
import { formatNumber } from '../../scale/format'
import { Shell } from '../../ui/Shell'
import { inThemes } from '../../ui/themes'
import { Waiting, Words } from '../../ui/Words'
import { Matrix } from './Matrix'
import { PastedSentence } from '../again/pasted'
import { SampleSign } from '../../ui/SampleSign'
import { PairsSentence } from './PairsSentence'
import { Bars } from './Bars'

/** From how many rows on a sample is looked at first, and how many rows that has. */
const SAMPLED = 50_000
const SAMPLE = 20_000

/** Columns of numbers two at a time: the picture of all pairs, and the most telling first. */
export function PairsPage({ me }: { me: Me }) {
  const id = Number(useParams().dataset)
  const dataset = useQuery({ queryKey: ['dataset', id], queryFn: () => api.dataset(id) })
  if (dataset.error) return <Words title="This dataset cannot be opened" text={dataset.error.message} />
  if (!dataset.data) return <Waiting what="Opening the pairs" />
  return <Looked key={dataset.data.dataset.version_id} me={me} dataset={dataset.data.dataset as Dataset} />
}

/** What is asked stands in the address, so that it can be gone back to and sent. */
function useAsked(): [PairsWanted, (next: PairsWanted) => void] {
  const [search, setSearch] = useSearchParams()
  const asked: PairsWanted = {
    columns: search.getAll('column'),
    by: search.get('by') ?? '',
    straight: search.has('straight'),
    rank: search.get('rank') === 'difference' ? 'difference' : 'strength',
    outcome: search.get('outcome') ?? '',
  }
  const ask = (next: PairsWanted) => {
    const said = new URLSearchParams()
    for (const column of next.columns ?? []) said.append('column', column)
    if (next.by) said.set('by', next.by)
    if (next.straight) said.set('straight', '')
    if (next.rank === 'difference') said.set('rank', 'difference')
    if (next.outcome) said.set('outcome', next.outcome)
    setSearch(said)
  }
  return [asked, ask]
}

function Looked({ me, dataset }: { me: Me; dataset: Dataset }) {
  const [asked, ask] = useAsked()
  const [side, setSide] = useState(0)
  const navigate = useNavigate()
  const version = dataset.version_id
  const large = dataset.rows > SAMPLED
  const queries = useQueryClient()
  const look = (rows: number) => ({
    queryKey: ['pairs', version, asked, side, rows],
    queryFn: ({ signal }: { signal: AbortSignal }) => api.pairs(version, { ...asked, side, rows }, signal),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })
  const first = useQuery({ ...look(SAMPLE), enabled: large && side > 0 })
  const whole = useQuery({ ...look(0), enabled: side > 0 && (!large || first.isFetched) })
  const shown = whole.data && !whole.isPlaceholderData ? whole.data : (first.data ?? whole.data)
  const found = shown?.pairs
  const fault = whole.error ?? first.error
  const open = (pair: Pair) => void navigate(`/dataset/${dataset.id}/chart?new=${Date.now()}`, { state: { document: pair.chart } })
  return (
    <Shell me={me} dataset={dataset} view="Pairs">
      <PairsSentence found={found} asked={asked} ask={ask} />
      <main className="flex min-h-0 flex-1 gap-8 px-5.5 py-4.5 max-[1100px]:gap-5 slim:flex-none slim:flex-col slim:px-3 short:h-[440px] short:flex-none">
        <Square side={side} setSide={setSide}>
          {shown && shown.pairs.pairs.length > 0 && <Matrix picture={shown} side={side} open={open} version={version} />}
        </Square>
        <section aria-label="Ranked pairs" className="flex min-w-0 flex-1 flex-col">
          {fault && <p className="text-copper">{fault.message}</p>}
          {!found && !fault && (
            <p role="status" className="font-serif text-lg text-muted">
              Looking at every pair…
            </p>
          )}
          {found && found.pairs.length === 0 && (
            <p className="font-serif text-lg text-muted">
              Pairs need two columns of numbers; {dataset.name} has {found.candidates.length === 1 ? 'one' : 'none'}. Charts of groups and
              dates stand under Chart.
            </p>
          )}
          {found && found.pairs.length > 0 && (
            <>
              <div className="flex items-baseline justify-between gap-4 slim:flex-wrap slim:gap-y-0">
                <h2 className="font-serif text-[19px] font-semibold">
                  {asked.rank === 'difference' ? 'Most changed first' : 'Strongest first'}
                </h2>
                <Counted
                  found={found}
                  looking={whole.isFetching}
                  stop={() => void queries.cancelQueries({ queryKey: ['pairs', version] })}
                />
              </div>
              {dataset.drawn && <SampleSign drawn={dataset.drawn} />}
              <GroupKey figure={shown!.figure} name={found.by_name} />
              <Ranked found={found} open={open} />
            </>
          )}
        </section>
      </main>
      <PastedSentence dataset={dataset} />
    </Shell>
  )
}

/** The largest square that there is room for. */
function Square({ side, setSide, children }: { side: number; setSide: (side: number) => void; children: React.ReactNode }) {
  const box = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const measure = () => setSide(Math.floor(Math.min(box.current!.clientWidth, box.current!.clientHeight, 1400)))
    const watch = new ResizeObserver(measure)
    watch.observe(box.current!)
    measure()
    return () => watch.disconnect()
  }, [setSide])
  return (
    <div ref={box} className="min-h-0 w-[49%] shrink-0 slim:h-[90vw] slim:w-full">
      <div style={{ width: side, height: side }}>{children}</div>
    </div>
  )
}

function Counted({ found, looking, stop }: { found: PairsFound; looking: boolean; stop: () => void }) {
  const dots =
    found.dots < found.rows
      ? `; dots are ${formatNumber(found.dots, 0)} of them, drawn at random${found.by === 'none' ? '' : ', of each group its share'}`
      : ''
  if (found.rows === found.total)
    return (
      <p className="text-[13px] text-muted">
        {formatNumber(found.total, 0)} rows{dots}
      </p>
    )
  return (
    <p role="status" className="text-[13px] text-muted">
      {formatNumber(found.rows, 0)} of {formatNumber(found.total, 0)} rows, drawn at random{dots}
      {looking && (
        <>
          ; looking at all…{' '}
          <button type="button" className="link" onClick={stop}>
            stop
          </button>
        </>
      )}
    </p>
  )
}

/** What the colours of dots and curves stand for. */
function GroupKey({ figure, name }: { figure: Figure; name?: string }) {
  if (!name) return null
  return (
    <ul aria-label={`Key: ${name}`} className="mt-1 flex flex-wrap gap-x-4 gap-y-0.5 text-[13px]">
      {figure.keys[0]?.entries?.map((entry) => (
        <li key={entry.name} className="flex min-w-0 items-center gap-1.5">
          {inThemes(entry.light, entry.dark).map(([colour, when]) => (
            <svg key={when} width={10} height={10} aria-hidden className={`shrink-0 ${when}`}>
              <circle cx={5} cy={5} r={4.5} fill={colour} />
            </svg>
          ))}
          <span className="truncate">{entry.name}</span>
        </li>
      ))}
    </ul>
  )
}

function Ranked({ found, open }: { found: PairsFound; open: (pair: Pair) => void }) {
  const name = (i: number) => found.columns[i].name
  return (
    <ol className="mt-2 min-h-0 flex-1 overflow-y-auto slim:max-h-[80vh]">
      {found.ranked.map((place) => {
        const pair = found.pairs[place]
        return (
          <li key={`${pair.y} ${pair.x}`} className="border-b border-line">
            <button type="button" className="group flex w-full items-center gap-4 py-2 text-left" onClick={() => open(pair)}>
              <span className="min-w-0 flex-1">
                <span className="block leading-[1.3] font-semibold wrap-break-word group-hover:text-copper">
                  {name(pair.y)} <span className="font-normal">and</span> {name(pair.x)}
                </span>
                <span className="block text-[13px] leading-[1.35] text-muted">{pair.words}</span>
              </span>
              <span className="w-28 shrink-0 max-[1100px]:w-16 slim:hidden">
                <Bars pair={pair} by={pair.measure === 'r' ? found.by_name : undefined} height={16} />
              </span>
              <span
                className={`w-16 shrink-0 rounded-full px-2 py-0.5 text-center text-xs leading-[1.3] font-semibold ${pair.turns ? 'bg-[#f6d9c4] dark:bg-[#6b3a17]' : 'bg-verdigris-wash group-hover:bg-copper-wash'}`}
              >
                {pair.turns ? 'turns round' : 'open'}
              </span>
            </button>
          </li>
        )
      })}
    </ol>
  )
}
