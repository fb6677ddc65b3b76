import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import type { MovedChart, Refusal } from '../../api/client'
import { counted } from '../../scale/format'
import { Trouble } from '../../ui/Words'
import { compareAddress } from '../compare/sides'

/** Asks for charts that a version moves, from one on. */
export type AskMoved = (from: number, signal: AbortSignal) => Promise<{ charts: MovedChart[]; of: number }>

/** Which charts a new version moves, by how much: some at a time, and stopped where whoever waits leaves or says so. */
export function MovedCharts({ ask, version, dataset }: { ask: AskMoved; version?: number; dataset: number }) {
  const [charts, setCharts] = useState<MovedChart[]>([])
  const [all, setAll] = useState<number | null>(null)
  const [stopped, setStopped] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [unmoved, setUnmoved] = useState(false)
  useEffect(() => {
    if (stopped) return
    const stop = new AbortController()
    const go = async () => {
      for (let found: MovedChart[] = []; ;) {
        const next = await ask(found.length, stop.signal)
        found = [...found, ...next.charts]
        setCharts(found)
        setAll(next.of)
        if (next.charts.length === 0 || found.length >= next.of) return
      }
    }
    void go().catch((fault) => {
      if (!stop.signal.aborted) setTrouble(fault as Refusal)
    })
    return () => stop.abort()
  }, [ask, stopped])
  const ranked = [...charts].sort((a, b) => rank(b) - rank(a))
  const moved = ranked.filter((c) => c.why || (c.moved?.score ?? 0) > 0)
  const rest = ranked.filter((c) => !moved.includes(c))
  if (all === 0) return <p className="text-[13px] text-muted">No chart stands over another version.</p>
  return (
    <section aria-label="What it changes of charts" className="flex flex-col gap-2">
      <p role="status" className="text-[13px] text-muted">
        {all === null ? 'Looking at charts …' : `${charts.length} of ${counted(all, 'chart')} looked at`}
        {all !== null && charts.length < all && !stopped && !trouble && (
          <>
            {' · '}
            <button type="button" className="link" onClick={() => setStopped(true)}>
              stop
            </button>
          </>
        )}
        {stopped && ', stopped'}
      </p>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <ul className="flex max-h-72 flex-col divide-y divide-line overflow-auto">
        {moved.map((c) => (
          <li key={c.id} className="flex items-start gap-3 py-1.5 text-[13.5px]">
            <span className="min-w-0 flex-1">
              <Link className="link font-semibold" to={`/dataset/${dataset}/chart/${c.id}`}>
                {c.name}
              </Link>
              {c.why ? (
                <span className="block text-copper">does not fit: {c.why}</span>
              ) : (
                <span className="block text-muted wrap-anywhere">{c.moved?.words.join(' · ')}</span>
              )}
            </span>
            <span
              className={`shrink-0 rounded-full px-2.5 py-0.5 text-xs ${called(c).strong ? 'bg-copper-wash text-copper' : 'bg-verdigris-wash'}`}
            >
              {called(c).word}
            </span>
            {version && !c.why && (
              <Link
                className="link shrink-0"
                to={compareAddress(dataset, { a: c.id, a_step: 0, a_version: 0, b: c.id, b_step: 0, b_version: version })}
              >
                compare
              </Link>
            )}
          </li>
        ))}
      </ul>
      {rest.length > 0 && (
        <p className="text-[13px] text-muted">
          {counted(rest.length, 'chart')} {rest.length === 1 ? 'stays as it is' : 'stay as they are'}
          {' · '}
          <button type="button" className="link" aria-expanded={unmoved} onClick={() => setUnmoved(!unmoved)}>
            {unmoved ? 'fold' : 'which'}
          </button>
          {unmoved && `: ${rest.map((c) => c.name).join('; ')}`}
        </p>
      )}
    </section>
  )
}

/** What does not fit comes first: it cannot be moved as it is. */
const UNFIT = 1000

const rank = (c: MovedChart) => (c.why ? UNFIT : (c.moved?.score ?? 0))

/** How much it moved, in a word. */
function called({ why, moved }: MovedChart): { word: string; strong: boolean } {
  if (why) return { word: 'does not fit', strong: true }
  if (moved?.verdict) return { word: 'says otherwise', strong: true }
  if (moved?.clear) return { word: 'another slope', strong: true }
  return { word: 'moved a little', strong: false }
}
