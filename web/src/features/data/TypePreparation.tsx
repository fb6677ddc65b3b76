import { useState } from 'react'
import { api } from '../../api/client'
import { TypedEditor } from '../../ui/TypedEditor'
import { parseClauses, placeIn, printClauses } from './clauses'
import type { Preparation } from './usePreparation'

/** The preparation, typed, one clause a line. The rows follow; a mistake is explained and the rest still holds. */
export function TypePreparation({ preparation, done }: { preparation: Preparation; done: () => void }) {
  const [text, setText] = useState(() => printClauses(preparation.clauses))
  const write = (next: string) => {
    setText(next)
    preparation.change(parseClauses(next), true)
  }
  const mistake = preparation.mistake
  const place = mistake && placeIn(text, mistake.clause, mistake.from, mistake.to)
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-2 text-[14px]">
      <TypedEditor
        label="The preparation, typed"
        text={text}
        setText={write}
        wrong={place && [place]}
        complete={(before, signal) => api.completePreparation(preparation.base.id, before, signal)}
        about={['preparation', preparation.base.id]}
        placeholder="leave out missing honey_kg"
        rows={Math.min(10, Math.max(4, text.split('\n').length))}
        keep={() => undefined}
        leave={done}
      >
        <div className="flex items-baseline gap-5 text-[13px]">
          <div aria-live="polite" className="flex-1">
            {mistake && place ? (
              <p className="border-l-3 border-copper pl-2">
                <strong className="font-semibold">Line {place.line}:</strong> {mistake.message}; {mistake.advice}
              </p>
            ) : (
              <p className="text-muted">One clause a line. The rows follow as you type; Tab takes the first proposal.</p>
            )}
          </div>
          <button type="button" className="button-plain shrink-0" onClick={done}>
            Back to the sentence
          </button>
        </div>
      </TypedEditor>
    </div>
  )
}
