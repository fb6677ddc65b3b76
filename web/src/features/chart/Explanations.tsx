import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Document, type Explanations as Found } from '../../api/client'
import type { Bench } from '../../state/bench'

type Finding = NonNullable<Found['findings']>[number]

const LOUD = ['reverses', 'explains away', 'hides']
const NOTED = ['weakens', 'strengthens', 'differs']
const QUIET = ['cannot tell', 'too alike', 'too little to say']

/** How many findings stand there before the rest is asked for. */
const SHOWN = 3

/** The chart and the picture of its step go first: they are what the eye is on. */
const afterwards = (signal: AbortSignal) => new Promise<void>((done) => (setTimeout(done, 120), signal.addEventListener('abort', () => done())))

/** Every other column tried as a hidden explanation of the relation on screen, the most telling first. */
export function Explanations({ bench, document }: { bench: Bench; document: Document }) {
  const { version, where, take_out, x, y, scales } = document
  const relation: Document = { version, where, take_out, x, y, scales } // colours and fits do not change the relation
  const found = useQuery({ queryKey: ['explanations', bench.version, relation], queryFn: ({ signal }) => afterwards(signal).then(() => api.explanations(bench.version, relation, signal)), staleTime: Infinity })
  const [all, setAll] = useState(false)
  const every = found.data?.findings ?? []
  // What is found stands above the fold; the rest is asked for.
  const telling = every.filter((f) => LOUD.includes(f.verdict) || NOTED.includes(f.verdict)).length
  const shownFirst = Math.max(SHOWN, Math.min(telling, 2 * SHOWN))
  const findings = all ? every : every.slice(0, shownFirst)
  const split = (finding: Finding) => {
    const layers = document.layers ?? []
    const first = layers.findIndex((l) => l.fit)
    const each = { kind: 'line' as const, ...layers[first]?.fit, each: finding.column, overall: true }
    const fitted = { mark: 'fit', fit: each }
    const split = first < 0 ? [...layers.filter((l) => l.mark !== 'reference'), fitted, ...layers.filter((l) => l.mark === 'reference')] : layers.map((l, i) => (i === first ? fitted : l))
    void bench.change({ ...document, colour: finding.column, layers: split })
  }
  if (found.data?.problem) return null
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="What else could explain it?">
      <h3 className="mb-1 font-serif text-[17px] font-semibold">What else could explain it?</h3>
      {found.isPending && (
        <p role="status" className="text-muted">
          Trying every other column…
        </p>
      )}
      {found.error && <p className="text-copper">The columns could not be tried: {found.error.message}</p>}
      <ul>
        {findings.map((finding) => (
          <li key={`${finding.column} ${finding.with ?? ''}`} className="flex items-center justify-between gap-3 py-1.5">
            <span className="min-w-0">
              {finding.splits ? (
                <button type="button" className="block max-w-full truncate text-left font-semibold hover:text-copper hover:underline" title={`Split the chart by ${finding.name}`} onClick={() => split(finding)}>
                  {finding.name}
                </button>
              ) : (
                <span className="block truncate font-semibold">{finding.name}</span>
              )}
              <span className="block text-[13px] leading-[1.35] text-muted">{finding.words}</span>
            </span>
            <span className="flex shrink-0 flex-col items-end gap-1">
            <span className={`rounded-full px-2.5 py-0.5 text-xs font-semibold text-ink ${LOUD.includes(finding.verdict) ? 'bg-[#f6d9c4] dark:bg-[#6b3a17]' : NOTED.includes(finding.verdict) ? 'bg-[#f4e8c6] dark:bg-[#57481a]' : QUIET.includes(finding.verdict) ? 'bg-wash' : 'bg-verdigris-wash'}`}>
              {finding.verdict}
            </span>
            {!finding.with && !take_out && (LOUD.includes(finding.verdict) || NOTED.includes(finding.verdict) || finding.verdict === 'holds') && (
              <button type="button" className="link text-xs" aria-label={`Take ${finding.name} out`} onClick={() => void bench.change({ ...document, take_out: finding.column })}>
                take it out
              </button>
            )}
            </span>
          </li>
        ))}
      </ul>
      {every.length > shownFirst && (
        <button type="button" className="link text-[13px]" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'only the most telling' : `${every.length - shownFirst} more`}
        </button>
      )}
      {every.length > 0 && (
        <p className="mt-2 text-[13px] text-muted">
          Slopes in {found.data!.unit}. {found.data!.tried} columns were tried; these are columns of this table: a cause outside it cannot be seen.
        </p>
      )}
    </section>
  )
}
