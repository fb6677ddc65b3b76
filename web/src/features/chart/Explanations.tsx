import { useState } from 'react'
import type { Drawing } from '../../api/client'
import { columnSaid } from '../../sentence/lines'
import type { Bench } from '../../state/bench'
import { counted, formatNumber } from '../../scale/format'
import { AskBeside, exactOf } from '../elsewhere/AskBeside'
import { OneBasis } from '../../ui/BasisSign'
import { useExplanations } from './useExplanations'
import { LOUD, NOTED, verdictWash, type Finding } from './verdicts'

/** How many findings stand there before the rest is asked for. */
const SHOWN = 3

/** Every other column tried as a hidden explanation of the relation on screen, the most telling first. */
export function Explanations({
  bench,
  drawing,
  examine,
  check,
  sample,
  asks,
}: {
  bench: Bench
  drawing: Drawing
  examine: (column: string) => void
  check: () => void
  /** How many rows the sample has, where the table stays elsewhere. */
  sample: string
  /** Whether all rows of such a table may be asked. */
  asks: boolean
}) {
  const { document, relation } = drawing
  const found = useExplanations(bench.version, relation)
  const [all, setAll] = useState(false)
  const { drawn } = drawing.figure.rows
  const every = found.data?.findings ?? []
  // What is found stands above the fold; the rest is asked for.
  const telling = every.filter((f) => LOUD.includes(f.verdict) || NOTED.includes(f.verdict)).length
  const shownFirst = Math.max(SHOWN, Math.min(telling, 2 * SHOWN))
  const findings = all ? every : every.slice(0, shownFirst)
  if (found.data?.problem) return null
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="What else could explain it?">
      <h3 className="mb-1 font-serif text-[17px] font-semibold">What else could explain it?</h3>
      {drawing.figure.elsewhere && relation && (
        <AskBeside
          bench={bench}
          whole={found.data?.elsewhere}
          asker={{ document: relation, for: 'explanations' }}
          exact={exactOf(every.map((f) => f.basis))}
          sample={sample}
          asks={asks}
        />
      )}
      {found.isPending && (
        <p role="status" className="text-muted">
          Trying every other column…
        </p>
      )}
      {found.error && <p className="text-copper">The columns could not be tried: {found.error.message}</p>}
      <ul>
        {findings.map((finding) => (
          <li key={`${finding.column} ${finding.with ?? ''}`} className="flex items-start gap-3 py-1.5">
            <Slopes finding={finding} />
            <span className="min-w-0 flex-1">
              {finding.with ? (
                <span className="block truncate font-semibold">{finding.name}</span>
              ) : (
                <button
                  type="button"
                  className="block max-w-full truncate text-left font-semibold hover:text-copper hover:underline"
                  title={`What stands behind ${finding.name}`}
                  aria-label={`${finding.name}: ${finding.verdict}. What stands behind it`}
                  data-finding={finding.column}
                  onClick={() => examine(finding.column)}
                >
                  {finding.name}
                </button>
              )}
              <span className="block text-[13px] leading-[1.35] text-muted">
                {finding.words} <OneBasis basis={finding.basis} sample={sample} />
              </span>
            </span>
            <span className="flex shrink-0 flex-col items-end gap-1">
              <span className={`rounded-full px-2.5 py-0.5 text-xs font-semibold text-ink ${verdictWash(finding.verdict)}`}>
                {finding.verdict}
              </span>
              {!finding.with &&
                !document.rows?.take_out &&
                !found.data!.groups &&
                (LOUD.includes(finding.verdict) || NOTED.includes(finding.verdict) || finding.verdict === 'holds') && (
                  <button
                    type="button"
                    className="link text-xs"
                    aria-label={`Take ${finding.name} out`}
                    onClick={() => void bench.amend({ say: [`take out ${columnSaid(finding.column)}`] })}
                  >
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
      {found.data && (
        <button type="button" className="link mt-1 block text-[13.5px]" data-finding="" onClick={check}>
          Does it hold? Look in other ways
        </button>
      )}
      {every.length > 0 && (
        <p className="mt-2 text-[13px] text-muted">
          {found.data!.alike && <strong className="font-semibold">{found.data!.alike} </strong>}
          {found.data!.told}. {counted(found.data!.tried, 'column')} {found.data!.tried === 1 ? 'was' : 'were'} tried,{' '}
          {overRows(found.data!.rows, drawing.figure.elsewhere ? found.data!.rows : drawn)}; these are columns of this table: a cause
          outside it cannot be seen. {found.data!.looked}
        </p>
      )}
    </section>
  )
}

/** Says over how many rows columns were tried, where these are others than the chart draws. */
const overRows = (tried: number, drawn: number) =>
  `over ${counted(tried, 'row')}${drawn > 0 && drawn !== tried ? ` that have x and y; the chart draws ${formatNumber(drawn, 0)}, those that have all that it names` : ''}`

/** The slope overall, dashed, against the slope with the column held fixed, the steeper of them at half a right angle. */
function Slopes({ finding: { overall, within, verdict } }: { finding: Finding }) {
  const steepest = Math.max(Math.abs(overall), Math.abs(within))
  if (!(steepest > 0) || verdict === 'too alike' || verdict === 'too little to say') return <span aria-hidden className="w-9 shrink-0" />
  const rise = (slope: number) => (11 * slope) / steepest
  return (
    <svg width={36} height={28} viewBox="0 0 36 28" aria-hidden className="mt-0.5 shrink-0 rounded border border-line bg-paper">
      <path d={`M6 ${14 + rise(overall)}L30 ${14 - rise(overall)}`} stroke="var(--ink)" strokeWidth={1.6} strokeDasharray="3.5 2.5" />
      <path d={`M6 ${14 + rise(within)}L30 ${14 - rise(within)}`} stroke="var(--verdigris)" strokeWidth={2} />
    </svg>
  )
}
