import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react'
import { useQuery } from '@tanstack/react-query'
import { api, type Mistake } from '../api/client'
import type { Bench } from '../state/bench'
import { useBench } from '../features/chart/useBench'
import { SuggestionList, useCaret } from '../ui/SuggestionList'

/**
 * The sentence, typed. What is typed is tried on the chart as soon as it is
 * right; a mistake is underlined and explained, and the chart stays as it was.
 */
export function TypeIt({ bench, onDone }: { bench: Bench; onDone: () => void }) {
  const state = useBench(bench)
  const [text, setText] = useState(() => state.drawing?.typed ?? `plot ${state.document.y || '…'} against ${state.document.x || '…'}\n`)
  const waiting = useRef(0)
  const mistakes = state.refusal?.mistakes ?? []
  const type = (next: string) => {
    setText(next)
    clearTimeout(waiting.current)
    waiting.current = window.setTimeout(() => void bench.previewTyped(next), 180)
  }
  const { area, caret, setCaret, put } = useCaret(text, type)
  const id = useId()
  const before = text.slice(0, caret)
  const completion = useQuery({ queryKey: ['completions', bench.version, before], queryFn: ({ signal }) => api.complete(bench.version, before, signal), staleTime: 60_000, gcTime: 60_000, retry: false })
  const from = caret - (completion.data?.replace ?? 0)
  const list = caret > from ? (completion.data?.suggestions ?? []) : [] // not before a word is begun
  useEffect(() => {
    area.current?.focus()
    return () => clearTimeout(waiting.current)
  }, [])
  const leave = () => {
    clearTimeout(waiting.current)
    void bench.preview(null)
    onDone()
  }
  const keep = async () => {
    clearTimeout(waiting.current)
    if (await bench.type(text)) onDone()
    else area.current?.focus()
  }
  const press = (e: KeyboardEvent) => {
    if (e.key === 'Escape') leave()
    else if (e.key === 'Tab' && !e.shiftKey && list.length > 0 && list[0].text !== text.slice(from, caret)) put(from, list[0])
    else if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) void keep()
    else return
    e.preventDefault()
  }
  const rows = Math.min(12, Math.max(3, text.split('\n').length + 1))
  return (
    <div className="flex min-w-0 flex-1 gap-5">
      <div className="relative min-w-0 flex-1 rounded-lg border border-line bg-paper font-mono focus-within:border-copper text-[14px] leading-6">
        <pre aria-hidden className="pointer-events-none absolute inset-0 overflow-hidden px-3 py-2 whitespace-pre-wrap text-transparent [overflow-wrap:anywhere]">
          {underlined(text, mistakes)}
        </pre>
        <textarea
          ref={area}
          aria-label="The sentence, typed"
          aria-invalid={mistakes.length > 0}
          aria-describedby="typed-mistakes"
          spellCheck={false}
          rows={rows}
          value={text}
          aria-controls={id}
          onChange={(e) => {
            type(e.target.value)
            setCaret(e.target.selectionStart)
          }}
          onSelect={(e) => setCaret(e.currentTarget.selectionStart)}
          onKeyDown={press}
          className="relative block w-full resize-none outline-none! bg-transparent px-3 py-2 [overflow-wrap:anywhere]"
        />
      </div>
      <div className="flex w-[344px] shrink-0 flex-col gap-2 text-[13px]">
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
          {!state.refusal && <p className="text-muted">One clause a line. The chart follows as you type; Tab takes the first proposal.</p>}
        </div>
        <SuggestionList id={id} list={list} here={-1} put={(s) => put(from, s)} />
        <div className="flex justify-end gap-2">
          <button type="button" className="button-plain" onClick={leave}>
            Leave as it was
          </button>
          <button type="button" className="button-bright" onClick={keep}>
            Keep <kbd className="ml-1 font-normal opacity-70">ctrl ↵</kbd>
          </button>
        </div>
      </div>
    </div>
  )
}

/** The text with its mistakes marked; columns count characters from 1. */
function underlined(text: string, mistakes: Mistake[]) {
  const lines = text.split('\n').map((line) => [...line])
  return lines.map((characters, i) => {
    const here = mistakes.filter((m) => m.line === i + 1).sort((a, b) => a.column - b.column)
    const parts: React.ReactNode[] = []
    let at = 0
    here.forEach((m, k) => {
      const from = Math.max(at, Math.min(m.column - 1, characters.length))
      const to = Math.max(from, from + m.length)
      parts.push(characters.slice(at, from).join(''))
      parts.push(
        <mark key={k} className="bg-copper-wash text-transparent underline decoration-copper decoration-wavy decoration-2 underline-offset-4">
          {characters.slice(from, to).join('') || ' '}
        </mark>,
      )
      at = to
    })
    parts.push(characters.slice(at).join(''), '\n')
    return <span key={i}>{parts}</span>
  })
}
