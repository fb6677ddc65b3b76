import { useId, useState, type KeyboardEvent } from 'react'
import { SuggestionList, useCaret } from '../../ui/SuggestionList'
import { useNameable } from './ClauseField'
import { parseClauses, printClauses } from './clauses'
import { complete } from './completion'
import { nameableColumns, type Preparation } from './usePreparation'

/** The preparation, typed, one clause a line. The rows follow; a mistake is explained and the rest still holds. */
export function TypePreparation({ preparation, done }: { preparation: Preparation; done: () => void }) {
  const [text, setText] = useState(() => printClauses(preparation.clauses))
  const write = (next: string) => {
    setText(next)
    preparation.change(parseClauses(next), true)
  }
  const { area, caret, setCaret, put } = useCaret(text, write)
  const id = useId()
  const mistake = preparation.mistake
  const line = mistake ? printed(text, mistake.clause) : 0
  const nameable = useNameable(nameableColumns(preparation))
  const { from, suggestions } = complete(text.slice(0, caret), nameable, 8)
  const list = caret > from ? suggestions : [] // not before a word is begun
  const press = (e: KeyboardEvent) => {
    if (e.key === 'Escape') done()
    else if (e.key === 'Tab' && !e.shiftKey && list.length > 0) put(from, list[0])
    else return
    e.preventDefault()
  }
  return (
    <div className="flex min-w-0 flex-1 gap-5">
      <textarea
        ref={area}
        autoFocus
        aria-label="The preparation, typed"
        aria-invalid={Boolean(mistake)}
        aria-controls={id}
        spellCheck={false}
        rows={Math.min(10, Math.max(4, text.split('\n').length))}
        className="field flex-1 font-mono text-[14px] leading-6"
        placeholder={'leave out missing honey_kg\nwork out income = honey_kg * price'}
        value={text}
        onChange={(e) => {
          write(e.target.value)
          setCaret(e.target.selectionStart)
        }}
        onSelect={(e) => setCaret(e.currentTarget.selectionStart)}
        onKeyDown={press}
      />
      <div className="flex w-[380px] shrink-0 flex-col gap-2 text-[13px]">
        <div aria-live="polite">
          {mistake ? (
            <p className="border-l-3 border-copper pl-2">
              <strong className="font-semibold">Line {line}:</strong> {mistake.message}; {mistake.advice}
            </p>
          ) : (
            <p className="text-muted">One clause a line. The rows follow as you type; Tab takes the first proposal.</p>
          )}
        </div>
        <SuggestionList id={id} list={list} here={-1} put={(s) => put(from, s)} />
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
