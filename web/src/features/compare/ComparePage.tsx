import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { api, type ComparedSides, type Comparison, type Me, type PageDrawing } from '../../api/client'
import type { Shown } from '../../figure/figure'
import { Linked } from '../../interact/linked'
import { formatNumber } from '../../scale/format'
import { may } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { SampleSign } from '../../ui/SampleSign'
import { Trouble, Waiting, Words } from '../../ui/Words'
import { LiveChart } from '../chart/LiveChart'
import { aligned } from './aligned'
import { CompareTrail } from './CompareTrail'
import { KeepIt } from './KeepIt'
import { Handle } from './Handle'
import { OnlyRows } from './OnlyRows'
import { SideHead } from './SideHead'
import { compareAddress, sidesOf, swapped, type SideName } from './sides'
import { Slopes } from './Slopes'
import { useCompareKeys } from './useCompareKeys'

const HEIGHT = 236
const SIDES: SideName[] = ['a', 'b']

/** Two charts, or two steps of one, beside each other: what they say otherwise, their rows, and their slopes. */
export function ComparePage({ me }: { me: Me }) {
  const [search] = useSearchParams()
  const sides = sidesOf(search)
  const dataset = Number(useParams().dataset)
  const home = useQuery({ queryKey: ['dataset', dataset], queryFn: () => api.dataset(dataset) })
  const found = useQuery({ queryKey: ['compared', sides], queryFn: () => api.compared(sides), placeholderData: keepPreviousData })
  if (found.error && !found.data) return <Words title="These two cannot be compared" text={found.error.message} />
  if (!found.data || !home.data) return <Waiting what="Laying the two beside each other" />
  return <Compared me={me} home={home.data.dataset} sides={sides} comparison={found.data} trouble={found.error?.message} />
}

function Compared({
  me,
  home,
  sides,
  comparison,
  trouble,
}: {
  me: Me
  home: Parameters<typeof Shell>[0]['dataset'] & object
  sides: ComparedSides
  comparison: Comparison
  trouble?: string
}) {
  const navigate = useNavigate()
  const [chosen, choose] = useState<SideName>('b')
  const [own, setOwn] = useState(useSearchParams()[0].has('own'))
  const [lit, setLit] = useState<Partial<Record<SideName, Shown>>>({})
  const [drawings, setDrawings] = useState<Partial<Record<SideName, PageDrawing | null>>>({})
  const one = useQuery({ queryKey: ['chart', comparison.a.chart_id, 'trail'], queryFn: () => api.chart(comparison.a.chart_id) })
  const other = useQuery({ queryKey: ['chart', comparison.b.chart_id, 'trail'], queryFn: () => api.chart(comparison.b.chart_id) })
  const charts = { a: one.data, b: other.data }
  const go = useCallback((next: ComparedSides) => navigate(compareAddress(home.id, next), { replace: true }), [navigate, home.id])
  const put = useCallback(
    (side: SideName, next: { chart?: number; step?: number; version?: number }) =>
      go({
        ...sides,
        ...(next.chart && { [side]: next.chart, [`${side}_step`]: 0, [`${side}_version`]: 0 }),
        ...(next.step && { [`${side}_step`]: next.step }),
        ...(next.version && { [`${side}_version`]: next.version }),
      }),
    [go, sides],
  )
  const back = useCallback(
    () => navigate(`/dataset/${comparison.b.dataset_id}/chart/${comparison.b.chart_id}`),
    [navigate, comparison.b.dataset_id, comparison.b.chart_id],
  )
  useCompareKeys({
    steps: charts[chosen]?.steps ?? [],
    at: comparison[chosen].step_id,
    put: (step) => put(chosen, { step }),
    swap: () => go(swapped(sides)),
    back,
  })
  return (
    <Shell
      me={me}
      dataset={home}
      view="Compare"
      title={`${comparison.a.name} beside ${comparison.b.name}`}
      action={may(me, 'maker') && <KeepIt comparison={comparison} sides={sides} own={own} />}
    >
      <div data-takes-keys className="flex shrink-0 gap-6 border-b border-line bg-strip px-3.5 py-1.5 slim:flex-col">
        {SIDES.map((side) => (
          <SideHead
            key={side}
            of={side === 'a' ? 'A' : 'B'}
            side={comparison[side]}
            differs={comparison.differs}
            chart={charts[side]}
            chosen={chosen === side}
            choose={() => choose(side)}
            instead={(next) => put(side, next)}
          />
        ))}
      </div>
      <main tabIndex={-1} data-takes-keys className="outline-none min-h-0 flex-1 overflow-auto px-5.5 pt-3 pb-2">
        {trouble && <Trouble message={trouble} />}
        {home.drawn && <SampleSign drawn={home.drawn} />}
        <Pictures
          comparison={comparison}
          sides={sides}
          own={own}
          lit={lit}
          drawings={drawings}
          drawn={(side, drawing) => setDrawings((all) => ({ ...all, [side]: drawing }))}
        />
        <label className="relative z-2 ml-auto -mt-5 slim:ml-0 slim:mt-1 flex w-fit items-center gap-1.5 text-[13px]">
          <input type="checkbox" checked={own} onChange={(e) => setOwn(e.target.checked)} /> each with its own axes
        </label>
        <div className="mt-2.5 flex gap-9 border-t border-line pt-2.5 slim:flex-col">
          <section aria-label="Fits side by side" tabIndex={0} className="relative min-w-0 max-w-full flex-1 overflow-x-auto">
            <h2 className="font-serif text-[17px] font-semibold">Fits side by side</h2>
            <Slopes slopes={comparison.slopes} drawings={[drawings.a ?? null, drawings.b ?? null]} />
          </section>
          <section aria-label="Rows that only one leaves out" className="w-[310px] shrink-0 slim:w-full">
            <h2 className="mb-1 font-serif text-[17px] font-semibold">Rows that only one leaves out</h2>
            <OnlyRows
              key={JSON.stringify(sides)}
              comparison={comparison}
              light={(rows) => setLit(rows ? Object.fromEntries(Object.entries(rows).map(([side, list]) => [side, { rows: list }])) : {})}
            />
          </section>
        </div>
      </main>
      <CompareTrail chart={charts.a} comparison={comparison} put={(step) => put(chosen, { step })} chosen={chosen} />
    </Shell>
  )
}

/** Both charts, and the handle that lays one over the other. */
function Pictures({
  comparison,
  sides,
  own,
  lit,
  drawings,
  drawn,
}: {
  comparison: Comparison
  sides: ComparedSides
  own: boolean
  drawings: Partial<Record<SideName, PageDrawing | null>>
  lit: Partial<Record<SideName, Shown>>
  drawn: (side: SideName, drawing: PageDrawing | null) => void
}) {
  const [share, setShare] = useState(0)
  const boxes = { a: useRef<HTMLDivElement>(null), b: useRef<HTMLDivElement>(null) }
  const [distance, setDistance] = useState(0)
  const together = useMemo(() => new Linked(), [])
  const apart = useMemo(() => new Map<SideName, Linked>(SIDES.map((side) => [side, new Linked()])), [])
  const sameRows = comparison.a.version_id === comparison.b.version_id
  const linked = useMemo(
    () => ({ a: () => (sameRows ? together : apart.get('a')!), b: () => (sameRows ? together : apart.get('b')!) }),
    [sameRows, together, apart],
  )
  const { a, b } = boxes
  useLayoutEffect(() => {
    const measure = () => setDistance((b.current?.offsetLeft ?? 0) - (a.current?.offsetLeft ?? 0))
    const watch = new ResizeObserver(measure)
    watch.observe(a.current!)
    measure()
    return () => watch.disconnect()
  }, [a, b])
  useEffect(() => setShare(0), [comparison.a.step_id, comparison.b.step_id])
  return (
    <div className="relative flex items-stretch slim:flex-col">
      {SIDES.map((side) => (
        <div key={side} className="contents">
          {side === 'b' && <Handle share={share} distance={distance} move={setShare} />}
          <div
            ref={boxes[side]}
            className={`min-w-0 flex-1 ${side === 'b' && share > 0 ? 'z-1 mix-blend-multiply dark:mix-blend-screen' : ''}`}
          >
            <section
              aria-label={`Chart ${side.toUpperCase()}`}
              className="rounded-xl border border-line bg-paper px-2 py-1.5"
              style={side === 'b' && share > 0 ? { transform: `translateX(${-share * distance}px)` } : undefined}
            >
              <LiveChart
                ask={{
                  name: JSON.stringify([sides, side, own]),
                  followed: false,
                  draw: (size, signal) => api.comparedFigure({ ...sides, of: side, own, ...size }, signal),
                }}
                height={HEIGHT}
                lit={lit[side] ?? null}
                linked={linked[side]}
                fitted={(figure) => (own ? figure : aligned(figure, drawings[side === 'a' ? 'b' : 'a']?.figure))}
                onDrawn={(drawing) => drawn(side, drawing)}
              />
            </section>
            <p className="mt-1 px-1 text-[13px] text-muted">
              <strong className="text-ink">{formatNumber(comparison[side].drawn, 0)}</strong> of {formatNumber(comparison[side].total, 0)}{' '}
              rows drawn
            </p>
          </div>
        </div>
      ))}
    </div>
  )
}
