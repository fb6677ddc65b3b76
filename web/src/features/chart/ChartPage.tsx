import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router'
import {
  api,
  Refusal,
  type Chart,
  type ColumnProfile,
  type Dataset,
  type DatasetWithColumns,
  type Document,
  type Me,
  type Sayable,
} from '../../api/client'
import { base } from '../../api/space'
import { Sentence } from '../../sentence/Sentence'
import { TypeIt } from '../../sentence/TypeIt'
import { Bench } from '../../state/bench'
import { forReaders } from '../../state/forReaders'
import { may } from '../../ui/may'
import { focusOn } from '../../ui/focus'
import { announce } from '../../ui/title'
import { formatNumber } from '../../scale/format'
import { takesSingleKeys } from '../../ui/singleKeys'
import { isSpread } from '../../ui/kinds'
import { Shell, type Skip } from '../../ui/Shell'
import { Trouble, Waiting, Words } from '../../ui/Words'
import { ShareDialog } from '../shared/ShareDialog'
import { PastedSentence } from '../again/pasted'
import { AgainMenu } from '../again/AgainMenu'
import { NotesSection } from '../notes/NotesSection'
import { useChartNotes, type ChartNotes } from '../notes/useChartNotes'
import { AskedOf } from '../elsewhere/AskedOf'
import { AskingStrip } from '../elsewhere/AskingStrip'
import { StaysBadge } from '../elsewhere/StaysBadge'
import { UnderDialog, type LookedAt } from '../elsewhere/UnderDialog'
import { useWhole } from '../elsewhere/useWhole'
import { compareAddress } from '../compare/sides'
import { ChartName } from './ChartName'
import { chartAsked } from './early'
import { EvidencePanel } from './EvidencePanel'
import { HoldsPanel } from './HoldsPanel'
import { Paper } from './Paper'
import { useNarrow } from '../../ui/useNarrow'
import { ReadingPanel, ReadingStrip } from './ReadingPanel'
import { Trail } from './Trail'
import { useBench } from '../../state/useBench'
import { useComparing } from './useComparing'
import { Others } from '../together/Others'
import { useTogether } from './useTogether'

/** The Chart view of a dataset: the chart named in the address, or the one last changed, or a first look. */
export function ChartPage({ me }: { me: Me }) {
  const { dataset: datasetParam, chart: chartParam } = useParams()
  const [search] = useSearchParams()
  const fresh = search.has('new')
  const given = (useLocation().state as { document?: Document } | null)?.document // another view says what is plotted
  const id = Number(datasetParam)
  const dataset = useQuery({ queryKey: ['dataset', id], queryFn: () => api.dataset(id) })
  const charts = useQuery({
    queryKey: ['charts', 'last', id],
    queryFn: () => api.findCharts({ dataset: id, limit: 1 }),
    enabled: !chartParam && !fresh,
  })
  // Which chart an address opens is found once: a chart that its first change makes is among the dataset's too, and must not open itself again under the hand.
  const place = `${datasetParam} ${chartParam ?? ''} ${fresh ? search.get('new') : ''}`
  const opened = useRef<{ place: string; chart: number } | null>(null)
  if (opened.current?.place !== place) {
    const settled = chartParam !== undefined || fresh || (charts.isSuccess && !charts.isFetching)
    opened.current = settled ? { place, chart: chartParam ? Number(chartParam) : fresh ? 0 : (charts.data?.charts[0]?.id ?? 0) } : null
  }
  const known = opened.current !== null
  const chosen = opened.current?.chart ?? 0
  const chart = useQuery({
    queryKey: ['chart', chosen],
    queryFn: () => chartAsked(chosen),
    enabled: known && chosen > 0,
    staleTime: Infinity,
    gcTime: 0,
  })
  const version = dataset.data?.dataset.version_id ?? 0
  const firstLook = useQuery({
    queryKey: ['first-look', version],
    queryFn: () => api.firstLook(version),
    enabled: known && chosen === 0 && version > 0 && !given,
  })
  const fault = dataset.error ?? charts.error ?? chart.error ?? firstLook.error
  if (fault) return <Words title="This chart cannot be opened" text={fault.message} />
  const document = chosen > 0 ? chart.data?.document : (given ?? firstLook.data)
  if (!dataset.data || !document || (chosen > 0 && !chart.data)) return <Waiting what="Opening the chart" />
  return <OpenChart key={place} me={me} data={dataset.data} chart={chart.data ?? null} document={document} />
}

const SKIPS: Skip[] = [
  ['the sentence', 'section[aria-label=Sentence] button'],
  ['the chart', '.lark-chart canvas[tabindex]'],
  ['the reading', '[aria-label=Reading], [aria-label="Reading in short"] button'],
]

function OpenChart({ me, data, chart, document }: { me: Me; data: DatasetWithColumns; chart: Chart | null; document: Document }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const { dataset } = data
  const columns = data.columns ?? []
  const makes = may(me, 'maker')
  const bench = useMemo(
    () =>
      new Bench(chart?.version_id ?? dataset.version_id, document, chart, makes ? api : forReaders(), (kept) => {
        if (!makes) return
        // The address names the chart from now on, unless another view is looked at meanwhile; nothing is loaded again.
        const charts = `${base}/dataset/${dataset.id}/chart`
        if (window.location.pathname.startsWith(charts)) window.history.replaceState(null, '', `${charts}/${kept.id}`)
        void queries.invalidateQueries({ queryKey: ['charts'] })
      }),
    [chart, document, dataset, queries, makes],
  )
  const state = useBench(bench, 'at', 'chart', 'drawing')
  const narrow = useNarrow()
  const [reading, setReading] = useState(false)
  const closeReading = useCallback(() => setReading(false), [])
  const [typing, setTyping] = useState<boolean | Sayable>(false)
  const doneTyping = useCallback(() => {
    setTyping(false)
    // What was typed stands in the sentence: the hand goes on there.
    requestAnimationFrame(() => focusOn(window.document.querySelector<HTMLElement>('section[aria-label=Sentence]')))
  }, [])
  const [sharing, setSharing] = useState(false)
  const [open, setOpen] = useState<string | null>(null)
  useTrailKeys(bench)
  const { compare, overall } = useComparing(bench, dataset.id)
  const together = useTogether(bench, me)
  const notes = useChartNotes(bench, makes)
  const asking = useWhole(bench, makes && dataset.stays !== undefined)
  const sample = formatNumber(dataset.rows, 0)
  const [looked, look] = useState<LookedAt | null>(null)
  useSaid(bench)
  useEffect(() => () => void queries.invalidateQueries({ queryKey: ['charts'] }), [queries])
  return (
    <Shell
      me={me}
      dataset={dataset as Dataset}
      view="Chart"
      title={state.chart?.name}
      skips={SKIPS}
      others={<Others here={together.others} />}
      here={state.chart && (makes ? <ChartName chart={state.chart} at={state.at} /> : <span className="truncate">{state.chart.name}</span>)}
      action={
        makes ? (
          <button type="button" className="button-bright" disabled={!state.drawing} onClick={() => setSharing(true)}>
            Share…
          </button>
        ) : (
          <span className="text-[13px] text-bar-muted" title="You read in this space: an owner can make you a maker">
            What you try is not kept
          </span>
        )
      }
    >
      <Sentence
        bench={bench}
        columns={columns}
        open={open}
        setOpen={setOpen}
        onNew={() => navigate(`/dataset/${dataset.id}/chart?new=${Date.now()}`)}
        typing={Boolean(typing)}
        setTyping={setTyping}
        again={<AgainMenu bench={bench} dataset={dataset} columns={columns} />}
        before={dataset.stays && <StaysBadge stays={dataset.stays} />}
      />
      {makes && chart && chart.version_id !== dataset.version_id && <OlderVersion chart={chart} dataset={dataset} />}
      <main className="flex min-h-0 flex-1 slim:h-auto slim:flex-none slim:flex-col short:h-[440px] short:flex-none">
        <Paper
          bench={bench}
          dataset={dataset.id}
          oneRow={dataset.one_row}
          onlyNames={onlyNames(data.columns ?? [])}
          open={setOpen}
          compare={compare}
          notes={notes}
          me={me}
          under={makes && dataset.stays ? look : undefined}
          above={dataset.stays && state.drawing && <AskingStrip drawing={state.drawing} asking={asking} sample={sample} asks={makes} />}
        />
        {typing ? (
          <TypeIt bench={bench} and={typing === true ? undefined : typing} onDone={doneTyping} />
        ) : !narrow || reading ? (
          <Beside
            bench={bench}
            aside={dataset.aside ?? false}
            drawn={dataset.drawn ?? ''}
            sample={sample}
            asked={
              makes && dataset.stays && state.drawing ? (
                <AskedOf bench={bench} drawing={state.drawing} dataset={dataset as Dataset} asking={asking} />
              ) : null
            }
            notes={notes}
            writes={makes}
            close={narrow ? closeReading : undefined}
          />
        ) : null}
      </main>
      {looked && <UnderDialog version={bench.version} at={looked} close={() => look(null)} />}
      {narrow && <ReadingStrip bench={bench} open={reading} setOpen={setReading} />}
      <Trail bench={bench} narrow={narrow} compare={compare} overall={makes ? overall : undefined} together={together} notes={notes} />
      <PastedSentence dataset={dataset} />
      {sharing && <ShareDialog bench={bench} onClose={() => setSharing(false)} dataset={dataset} />}
    </Shell>
  )
}

/** What stands beside the chart: its reading, the evidence of a column, or whether its slope holds. */
function Beside({
  bench,
  aside,
  drawn,
  sample,
  asked,
  notes,
  writes,
  close,
}: {
  bench: Bench
  aside: boolean
  drawn: string
  sample: string
  asked: ReactNode
  notes: ChartNotes
  writes: boolean
  close?: () => void
}) {
  const [examined, examine] = useState<string | null>(null)
  const [checking, setChecking] = useState(false)
  const check = useCallback(() => setChecking(true), [])
  const left = useRef<string | null>(null) // what was looked at; its button takes the focus again
  useEffect(() => {
    if (checking || examined !== null) left.current = examined ?? ''
    else if (left.current !== null) {
      const button = window.document.querySelector<HTMLElement>(`[data-finding="${CSS.escape(left.current)}"]`)
      left.current = null
      if (!focusOn(button)) focusOn(window.document.querySelector<HTMLElement>('[aria-label=Reading]'))
    }
  }, [checking, examined])
  if (checking) return <HoldsPanel bench={bench} sample={sample} asks={writes} close={() => setChecking(false)} />
  if (examined) return <EvidencePanel bench={bench} column={examined} examine={examine} sample={sample} asks={writes} />
  return (
    <ReadingPanel
      bench={bench}
      examine={examine}
      check={check}
      aside={aside}
      drawn={drawn}
      sample={sample}
      asked={asked}
      asks={writes}
      close={close}
      notes={<NotesSection hand={notes} writes={writes} />}
    />
  )
}

/** Says that a chart was made from an older version, and moves it over in one press. */
function OlderVersion({ chart, dataset }: { chart: Chart; dataset: Dataset }) {
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [called, setCalled] = useState<Record<string, string>>({})
  const columns = useQuery({ queryKey: ['dataset', dataset.id], queryFn: () => api.dataset(dataset.id) }).data?.columns ?? []
  const missing = trouble?.missing ?? []
  const move = async () => {
    try {
      await api.moveChart(chart.id, dataset.version_id, called)
      location.reload()
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  return (
    <div className="flex shrink-0 items-center gap-4 border-b border-line bg-copper-wash px-5.5 py-1.5 text-[13px]">
      <p>
        This chart was made from an older version of {dataset.name}; version {dataset.version} is there.
      </p>
      {missing.map((name) => (
        <label key={name} className="flex items-center gap-1.5">
          {name} is now
          <select
            className="field w-auto py-1"
            value={called[name] ?? ''}
            onChange={(e) => setCalled({ ...called, [name]: e.target.value })}
          >
            <option value="">…</option>
            {columns.map((c) => (
              <option key={c.name} value={c.name}>
                {c.label}
              </option>
            ))}
          </select>
        </label>
      ))}
      <button type="button" className="link" disabled={missing.some((name) => !called[name])} onClick={move}>
        Move it over
      </button>
      {missing.length === 0 && (
        <Link
          className="link"
          to={compareAddress(dataset.id, { a: chart.id, a_step: 0, a_version: 0, b: chart.id, b_step: 0, b_version: dataset.version_id })}
        >
          Compare the two versions
        </Link>
      )}
      {trouble && missing.length === 0 && <Trouble message={trouble.message} advice={trouble.advice} />}
    </div>
  )
}

/** Left and right walk the trail, unless something else takes the keys. */
function useTrailKeys(bench: Bench) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      if (e.defaultPrevented || e.altKey || target.closest('input, textarea, select, dialog, [role=dialog], [role=menu]')) return
      const way = wayOf(e, target.closest('canvas') !== null || !takesSingleKeys(target))
      if (!way || !(bench.get().coming.length > 0 || (way === 'back' ? bench.previous() : bench.next()))) return
      e.preventDefault()
      void bench.walk(way)
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [bench])
}

/** Which way along the trail a key goes: the arrows, where the sentence or the trail has the focus, and Ctrl-Z with Ctrl-Shift-Z or Ctrl-Y. */
function wayOf(e: KeyboardEvent, onChart: boolean): 'back' | 'on' | null {
  if (e.ctrlKey || e.metaKey) {
    const key = e.key.toLowerCase()
    return key === 'z' ? (e.shiftKey ? 'on' : 'back') : key === 'y' ? 'on' : null
  }
  if (onChart) return null
  return e.key === 'ArrowLeft' ? 'back' : e.key === 'ArrowRight' ? 'on' : null
}

/** How many groups an axis has room for. */
const MOST_GROUPS = 60

const onlyNames = (columns: ColumnProfile[]) => columns.length > 0 && columns.every((c) => !isSpread(c.kind) && c.distinct > MOST_GROUPS)

/** Says politely what a change made of the chart: its sentence, its rows, and what the reading says first, where that is new. */
function useSaid(bench: Bench) {
  const { drawing } = useBench(bench, 'drawing')
  const before = useRef<{ sentence: string; reading: string } | null>(null)
  useEffect(() => {
    if (!drawing) return
    const now = {
      sentence: drawing.spoken.map((p) => p.text).join(''),
      reading: drawing.reading.paragraphs[0]?.spans.map((s) => s.text).join('') ?? '',
    }
    const was = before.current
    before.current = now
    if (!was || was.sentence === now.sentence) return
    const { drawn, total } = drawing.figure.rows
    const rows = `${formatNumber(drawn, 0)} of ${formatNumber(total, 0)} rows drawn.`
    announce([now.sentence, rows, now.reading === was.reading ? '' : now.reading].filter(Boolean).join(' '))
  }, [drawing])
}
