import { useState } from 'react'
import type { Prepared } from '../../api/client'
import { parseClauses, printClauses, type Clause } from './clauses'

/** The preparation, typed, one clause a line. The rows follow; a mistake is explained and the rest still holds. */
export function TypePreparation({ clauses, result, change, done }: { clauses: Clause[]; result: Prepared | undefined; change: (clauses: Clause[]) => void; done: () => void }) {
  const [text, setText] = useState(() => printClauses(clauses))
  const mistake = result?.mistake
  const line = mistake ? printed(text, mistake.clause) : 0
  return (
    <div className="flex min-w-0 flex-1 gap-5">
      <textarea
        autoFocus
        aria-label="The preparation, typed"
        aria-invalid={Boolean(mistake)}
        spellCheck={false}
        rows={Math.min(12, Math.max(3, text.split('\n').length))}
        className="field flex-1 font-mono text-[14px] leading-6"
        placeholder={'leave out missing honey_kg\nwork out income = honey_kg * price'}
        value={text}
        onChange={(e) => {
          setText(e.target.value)
          change(parseClauses(e.target.value))
        }}
        onKeyDown={(e) => e.key === 'Escape' && done()}
      />
      <div className="flex w-[344px] shrink-0 flex-col gap-2 text-[13px]" aria-live="polite">
        {mistake ? (
          <p className="border-l-3 border-copper pl-2">
            <strong className="font-semibold">Line {line}:</strong> {mistake.message}; {mistake.advice}
          </p>
        ) : (
          <p className="text-muted">One clause a line. The rows follow as you type.</p>
        )}
        <button type="button" className="button-plain mt-auto self-end" onClick={done}>
          Back to the sentence
        </button>
      </div>
    </div>
  )
}

/** The line on which a clause stands: empty lines are no clauses. */
function printed(text: string, clause: number): number {
  let seen = -1
  return text.split('\n').findIndex((line) => line.trim() !== '' && ++seen === clause) + 1
}
