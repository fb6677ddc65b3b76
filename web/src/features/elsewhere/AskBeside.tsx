import { useState } from 'react'
import { counted } from '../../scale/format'
import type { Schemas } from '../../api/client'
import { BasisSign } from '../../ui/BasisSign'
import { useAsking, type Asker, type Refreshed } from './useWhole'

/** How far what is told beside a chart is of all rows, which are asked by a press: each column that is tried is asked by itself. */
export function AskBeside({
  bench,
  whole,
  asker,
  exact,
  sample,
  asks,
}: {
  bench: Refreshed
  whole: Schemas['Elsewhere'] | undefined
  asker: Omit<Asker, 'questions'>
  /** Whether some of what is told is of all rows, or all of it. */
  exact: 'none' | 'some' | 'all'
  sample: string
  /** Whether whoever looks at it may ask. */
  asks: boolean
}) {
  const [wanted, want] = useState(false)
  const questions = whole?.questions ?? []
  const asking = useAsking(bench, wanted && asks, { ...asker, questions })
  if (!whole) return <BasisSign basis="sample" sample={sample} />
  const open = questions.filter((q) => !q.known)
  const refused = open.filter((q) => asking.failed.has(q.key))
  const tried = open.length > 0 && refused.length === open.length
  const at = questions.length - open.length + 1
  return (
    <div className="text-[13px] text-muted" role="group" aria-label="What this is of">
      {exact === 'some' ? (
        <span className="mt-0.5 flex flex-wrap items-center gap-x-3">
          <BasisSign basis="all" sample={sample} />
          <BasisSign basis="sample" sample={sample} />
        </span>
      ) : (
        <BasisSign basis={exact === 'all' ? 'all' : 'sample'} sample={sample} />
      )}
      {whole.bars && <p>All rows are not asked: {whole.bars}.</p>}
      {refused.slice(0, 1).map((q) => (
        <p key={q.key} className="text-copper">
          {q.words}: {asking.failed.get(q.key)!.message}
        </p>
      ))}
      {asks && !whole.bars && open.length > 0 && (
        <p className="flex items-baseline gap-3">
          {wanted && !tried && !asking.stopped ? (
            <>
              <span role="status">
                Asking all rows, {at} of {questions.length}
                {asking.running && `: ${asking.running.words}`}
              </span>
              <button type="button" className="link" onClick={() => want(false)}>
                stop
              </button>
            </>
          ) : (
            <button type="button" className="link" onClick={() => (want(true), asking.goOn())}>
              Ask all rows ({counted(open.length, 'question')})
            </button>
          )}
        </p>
      )}
    </div>
  )
}

/** Which of some things are of all rows. */
export const exactOf = (bases: (string | undefined)[]): 'none' | 'some' | 'all' => {
  const all = bases.filter((basis) => basis === 'all').length
  return all === 0 ? 'none' : all === bases.length ? 'all' : 'some'
}
