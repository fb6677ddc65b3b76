import { useEffect, useRef, useState } from 'react'
import { api, type Mistake, type Sayable } from '../api/client'
import type { Bench } from '../state/bench'
import { useBench } from '../state/useBench'
import { TypedEditor, type Wrong } from '../ui/TypedEditor'

/**
 * The sentence, typed. What is typed is tried on the chart as soon as it is
 * right; a mistake is underlined and explained, and the chart stays as it was.
 */
export function TypeIt({ bench, and, onDone }: { bench: Bench; and?: Sayable; onDone: () => void }) {
  const state = useBench(bench, 'document', 'drawing', 'refusal')
  const [typed, setTyped] = useState<string | null>(null)
  // Until a hand types, it is what the chart says: a change that was on its way may still arrive.
  const text =
    typed ?? withClause(state.drawing?.typed ?? `plot ${state.document.y.column || '…'} against ${state.document.x.column || '…'}\n`, and)
  const waiting = useRef(0)
  const mistakes = state.refusal?.mistakes ?? []
  const type = (next: string) => {
    setTyped(next)
    clearTimeout(waiting.current)
    waiting.current = window.setTimeout(() => void bench.previewTyped(next), 180)
  }
  useEffect(() => {
    if (and) type(text) // what it would do is seen at once
    return () => clearTimeout(waiting.current)
  }, []) // eslint-disable-line react-hooks/exhaustive-deps -- once, when the editor opens
  const leave = () => {
    clearTimeout(waiting.current)
    void bench.preview(null)
    onDone()
  }
  const keep = async () => {
    clearTimeout(waiting.current)
    if (await bench.type(text)) onDone()
  }
  const rows = Math.min(16, Math.max(4, text.split('\n').length + 1))
  return (
    <aside
      aria-label="Type it"
      className="flex w-[440px] shrink-0 flex-col gap-2.5 slim:w-full slim:border-l-0 border-l border-line bg-strip px-4.5 py-3.5 text-[13px]"
    >
      <div className="flex items-baseline justify-between">
        <h2 className="font-serif text-[17px] font-semibold">Type it</h2>
        <span className="text-muted">a clause a line, or as you would say it</span>
      </div>
      <TypedEditor
        label="The sentence, typed"
        text={text}
        setText={type}
        wrong={mistakes.map((m) => placeOf(text, m))}
        complete={(before, signal) => api.complete(bench.version, before, signal)}
        about={['chart', bench.version]}
        rows={rows}
        keep={() => void keep()}
        leave={leave}
      />
      <div className="flex min-h-24 flex-1 flex-col gap-2">
        <div id="typed-mistakes" aria-live="polite" className="min-h-0 flex-1 overflow-auto">
          {mistakes.map((m, i) => (
            <p key={i} className="mb-1 border-l-3 border-copper pl-2">
              <strong className="font-semibold">Line {m.line}:</strong> {m.message}
              {m.advice && `; ${m.advice}`}
            </p>
          ))}
          {state.refusal && mistakes.length === 0 && (
            <p className="border-l-3 border-copper pl-2">
              {state.refusal.message}
              {state.refusal.advice && `; ${state.refusal.advice}`}
            </p>
          )}
          {!state.refusal && <p className="text-muted">The chart follows as you type; Tab takes the first proposal.</p>}
        </div>
        <div className="flex items-center justify-end gap-2">
          {state.refusal && <p className="mr-auto text-muted">The chart waits until the sentence is right.</p>}
          <button type="button" className="button-plain shrink-0 whitespace-nowrap" onClick={leave}>
            Leave as it was
          </button>
          <button type="button" className="button-bright shrink-0 whitespace-nowrap" onClick={keep}>
            Keep <kbd className="ml-1 font-normal">ctrl ↵</kbd>
          </button>
        </div>
      </div>
    </aside>
  )
}

/** A sentence with an example of a clause as its last line, unless it says that clause already. */
function withClause(text: string, and?: Sayable): string {
  if (!and || text.split('\n').some((line) => line.startsWith(and.name))) return text
  return `${text.trimEnd()}\n${and.example}\n`
}

/** Where a mistake stands in a text, in UTF-16 units; its line and column count characters from 1. */
function placeOf(text: string, { line, column, length }: Mistake): Wrong {
  const lines = text.split('\n')
  const before = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0)
  const characters = [...(lines[line - 1] ?? '')]
  const from = before + characters.slice(0, column - 1).join('').length
  return { from, to: from + characters.slice(column - 1, column - 1 + length).join('').length }
}
