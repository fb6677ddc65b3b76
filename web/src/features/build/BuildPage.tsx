import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Schemas, Refusal, type BuiltPicture, type Me } from '../../api/client'
import { ChartView } from '../../interact/chartview'
import { Shell } from '../../ui/Shell'
import { Trouble } from '../../ui/Words'
import { Said } from '../chart/Said'
import { verdictWash } from '../chart/verdicts'
import { Handles } from './Handles'
import { FIELDS, START, withGroup, withOwn, withoutGroup, type Built } from './built'

/** Groups that turn a trend round, built by hand: what is dragged, the rows, the lines and the verdict follow. */
export function BuildPage({ me }: { me: Me }) {
  const [built, setBuilt] = useState<Built>(START)
  const host = useRef<HTMLDivElement>(null)
  const size = useSize(host)
  const { picture, trouble } = useBuilt(built, size)
  const chart = useRef<ChartView | null>(null)
  useLayoutEffect(() => {
    const view = (chart.current = new ChartView(host.current!, {}))
    return () => view.destroy()
  }, [])
  useLayoutEffect(() => {
    if (picture) chart.current?.show(picture.figure, picture.reading.paragraphs.map((p) => p.spans.map((s) => s.text).join('')).join(' '))
  }, [picture])
  const set = (change: Partial<Built>) => setBuilt({ ...built, ...change })
  return (
    <Shell me={me} view="Build one to learn from it" here={<span className="text-bar-ink">Build one to learn from it</span>}>
      <section
        aria-label="What is built"
        className="flex shrink-0 items-center gap-6 border-b border-line bg-strip px-5.5 py-3 slim:flex-wrap slim:gap-3 slim:px-3"
      >
        <p className="min-w-0 flex-1 font-serif text-[19px] leading-[1.35] slim:w-full slim:flex-none slim:text-base">
          Drag a centre to move its group. Drag the beginning of its line: along it for the spread, up and down for the{' '}
          <span className="font-semibold text-verdigris">slope within</span>, the same in all groups that have none of their own.
        </p>
        <button
          type="button"
          className="button-plain shrink-0"
          disabled={built.groups.length >= 6}
          onClick={() => setBuilt(withGroup(built))}
        >
          Add a group
        </button>
        <button
          type="button"
          className="button-plain shrink-0"
          disabled={built.groups.length <= 2}
          onClick={() => setBuilt(withoutGroup(built))}
        >
          One less
        </button>
        <Keep picture={picture} />
      </section>
      <main className="flex min-h-0 flex-1 slim:h-auto slim:flex-none slim:flex-col short:h-[440px] short:flex-none">
        <section aria-label="Chart" className="min-w-0 flex-1 px-4.5 py-3 slim:h-[70vw] slim:min-h-[300px] slim:flex-none slim:px-2">
          <div className="relative h-full overflow-hidden rounded-xl border border-line bg-paper">
            <div className="absolute inset-0">
              <div ref={host} className="h-full" />
            </div>
            {picture && <Handles figure={picture.figure} size={size} built={built} change={setBuilt} />}
          </div>
        </section>
        <aside
          aria-label="Reading"
          tabIndex={0}
          className="w-[344px] shrink-0 overflow-auto border-l border-line slim:w-full slim:border-t slim:border-l-0 bg-strip px-4.5 py-4"
        >
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          {picture && <Learnt picture={picture} />}
          <Slider name="Noise about the lines" value={built.noise} min={0} max={30} step={0.5} set={(noise) => set({ noise })} />
          <Slider name="Rows in each group" value={built.rows} min={5} max={300} step={5} set={(rows) => set({ rows })} />
          <Own built={built} change={setBuilt} />
        </aside>
      </main>
    </Shell>
  )
}

/** What the rows say: the reading, and what the groups do to the slope. */
function Learnt({ picture }: { picture: BuiltPicture }) {
  const finding = picture.explanations.findings?.find((f) => f.column === 'group' && !f.with)
  return (
    <>
      <h2 className="mb-1.5 font-serif text-[17px] font-semibold">Reading</h2>
      {picture.reading.paragraphs
        .filter((p) => p.kind !== 'caution')
        .map((p, i) => (
          <p key={i} className={`mb-2 text-[14.5px] leading-[1.45] ${p.kind === 'warning' ? 'border-l-3 border-copper py-0.5 pl-3' : ''}`}>
            <Said spans={p.spans} />
          </p>
        ))}
      {finding && (
        <p className="mb-2 flex items-baseline gap-3 border-t border-line pt-3" role="status">
          <span className="min-w-0 flex-1">
            <span className="block font-semibold">The groups, held fixed</span>
            <span className="block text-[13px] leading-[1.35] text-muted">{finding.words}</span>
          </span>
          <span className={`shrink-0 rounded-full px-2.5 py-0.5 text-xs font-semibold text-ink ${verdictWash(finding.verdict)}`}>
            {finding.verdict}
          </span>
        </p>
      )}
      <table className="mb-4 w-full text-[13px] tabular-nums">
        <thead className="text-left text-muted">
          <tr>
            <th className="font-normal">
              <span className="sr-only">Rows of</span>
            </th>
            <th scope="col" className="py-1 pl-2 text-right font-normal">
              slope
            </th>
            <th scope="col" className="py-1 pl-2 text-right font-normal">
              95 % interval
            </th>
          </tr>
        </thead>
        <tbody>
          {picture.reading.fits.map((fit) => (
            <tr key={fit.name} className={fit.group < 0 ? 'font-semibold' : ''}>
              <th scope="row" className={`max-w-32 truncate py-1 text-left ${fit.group < 0 ? '' : 'font-normal'}`}>
                {fit.name}
              </th>
              <td className="py-1 pl-2 text-right">{fit.slope}</td>
              <td className="py-1 pl-2 text-right whitespace-nowrap">{fit.interval}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

/** Rows, spread and slope of each group, to be typed. */
function Own({ built, change }: { built: Built; change: (built: Built) => void }) {
  return (
    <table className="mt-4 w-full text-[13.5px]">
      <caption className="pb-1 text-left font-serif text-[15px] font-semibold">Each group for itself</caption>
      <thead className="text-left text-muted">
        <tr>
          <th className="font-normal">
            <span className="sr-only">Group</span>
          </th>
          {FIELDS.map((field) => (
            <th key={field.name} scope="col" className="pl-2 font-normal">
              {field.says}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {built.groups.map((group, i) => (
          <tr key={group.name}>
            <th scope="row" className="max-w-24 truncate py-0.5 text-left font-normal">
              {group.name}
            </th>
            {FIELDS.map((field) => (
              <td key={field.name} className="py-0.5 pl-2">
                <input
                  type="number"
                  aria-label={`${field.says} of ${group.name}`}
                  className="field w-full min-w-0 px-1.5 py-0.5 tabular-nums"
                  min={field.low}
                  max={field.high}
                  step={field.step}
                  value={field.of(built, group)}
                  onChange={(e) => e.target.value !== '' && change(withOwn(built, i, field, Number(e.target.value)))}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Slider({
  name,
  value,
  min,
  max,
  step,
  set,
}: {
  name: string
  value: number
  min: number
  max: number
  step: number
  set: (value: number) => void
}) {
  return (
    <label className="mt-2 flex items-center gap-3 text-[13.5px]">
      <span className="w-40 shrink-0">{name}</span>
      <input
        type="range"
        className="min-w-0 flex-1 accent-verdigris"
        min={min}
        max={max}
        step={step}
        value={value}
        onChange={(e) => set(Number(e.target.value))}
      />
      <span className="w-8 text-right tabular-nums">{value}</span>
    </label>
  )
}

/** Keeps the built table as a dataset like others, and goes to its chart. */
function Keep({ picture }: { picture: BuiltPicture | null }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const keep = async () => {
    try {
      const dataset = await api.make('Groups that turn a trend round', picture!.preparation)
      await api.addChart(dataset.version_id, picture!.document)
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      await queries.invalidateQueries({ queryKey: ['charts'] })
      navigate(`/dataset/${dataset.id}/chart`)
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  return (
    <>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <button type="button" className="button-bright shrink-0" disabled={!picture} onClick={() => void keep()}>
        Keep as a table
      </button>
    </>
  )
}

/** The picture of what is built: one request at a time, the last one wins. */
function useBuilt(built: Built, size: { width: number; height: number }) {
  const [picture, setPicture] = useState<BuiltPicture | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const wanted = useRef<Schemas['BuildWanted'] | null>(null)
  const asking = useRef(false)
  useEffect(() => {
    if (size.width === 0) return
    wanted.current = { ...built, ...size }
    if (asking.current) return
    asking.current = true
    void (async () => {
      while (wanted.current) {
        const next = wanted.current
        wanted.current = null
        try {
          setPicture(await api.build(next))
          setTrouble(null)
        } catch (fault) {
          setTrouble(fault as Refusal)
        }
      }
      asking.current = false
    })()
  }, [built, size])
  return { picture, trouble }
}

function useSize(host: React.RefObject<HTMLDivElement | null>) {
  const [size, setSize] = useState({ width: 0, height: 0 })
  useEffect(() => {
    const element = host.current!
    const measure = () => setSize({ width: element.clientWidth, height: element.clientHeight })
    const watch = new ResizeObserver(measure)
    watch.observe(element)
    measure()
    return () => watch.disconnect()
  }, [host])
  return size
}
