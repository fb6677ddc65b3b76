import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useId, useState, type KeyboardEvent } from 'react'
import { api, type ColumnProfile, type Prepared } from '../../api/client'
import { SuggestionList, useCaret, type Suggestion } from '../../ui/SuggestionList'
import { Trouble } from '../../ui/Words'
import { printClauses, type Clause } from './clauses'
import { complete, type Nameable } from './completion'

interface Props {
  label: string
  text: string
  setText: (text: string) => void
  say: () => void
  /** The version and the clauses before this one. */
  version: number
  before: Clause[]
  columns: ColumnProfile[]
  placeholder?: string
}

/** One clause being typed or pressed together, with what could come next and what it would do. */
export function ClauseField({ label, text, setText, say, version, before, columns, placeholder }: Props) {
  const nameable = useNameable(columns)
  const { area, caret, setCaret, put: putThere } = useCaret(text, setText)
  const [here, setHere] = useState(-1)
  const [closed, setClosed] = useState(false)
  const id = useId()
  // What is there already is gone on with.
  useEffect(() => area.current?.setSelectionRange(text.length, text.length), []) // eslint-disable-line
  const { from, suggestions } = complete(text.slice(0, caret), nameable)
  const list = closed ? [] : suggestions
  const put = (s: Suggestion) => {
    setHere(-1)
    putThere(from, s)
  }
  const press = (e: KeyboardEvent) => {
    if (e.key === 'ArrowDown' && list.length > 0) setHere((here + 1) % list.length)
    else if (e.key === 'ArrowUp' && list.length > 0) setHere((here - 1 + list.length) % list.length)
    else if (e.key === 'Tab' && !e.shiftKey && list.length > 0 && caret > from) put(list[Math.max(here, 0)])
    else if (e.key === 'Enter' && here >= 0 && list[here]) put(list[here])
    else if (e.key === 'Enter') say()
    else return
    e.preventDefault()
  }
  return (
    <div className="flex flex-col gap-2">
      <textarea
        ref={area}
        autoFocus
        rows={2}
        role="combobox"
        aria-expanded={list.length > 0}
        aria-controls={id}
        aria-autocomplete="list"
        aria-activedescendant={here >= 0 ? `${id}-${here}` : undefined}
        aria-label={label}
        placeholder={placeholder}
        className="field resize-none font-mono text-[13px]"
        spellCheck={false}
        value={text}
        onChange={(e) => {
          setText(e.target.value)
          setCaret(e.target.selectionStart)
          setHere(-1)
          setClosed(false)
        }}
        onSelect={(e) => setCaret(e.currentTarget.selectionStart)}
        onKeyDown={press}
      />
      <Outcome version={version} before={before} text={text} />
      <SuggestionList id={id} list={list} here={here} put={put} />
    </div>
  )
}

/** What clauses can name beside the columns. */
export function useNameable(columns: ColumnProfile[]): Nameable {
  const language = useQuery({ queryKey: ['language'], queryFn: api.language, staleTime: Infinity })
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: api.datasets })
  return { columns, datasets: (datasets.data ?? []).map((d) => d.name), language: language.data }
}

/** What the clause would do: the first values that it works out, the rows that it takes, or what is wrong. */
function Outcome({ version, before, text }: { version: number; before: Clause[]; text: string }) {
  const settled = useSettled(text.trim(), 180)
  const typed = printClauses([...before, { text: settled }])
  const tried = useQuery({
    queryKey: ['prepared', version, typed],
    queryFn: ({ signal }) => api.prepare(version, typed, signal),
    enabled: settled.includes(' ') || settled === 'drop duplicates',
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  })
  if (!tried.data || !settled) return null
  const { mistake, effects } = tried.data
  if (mistake && mistake.clause === before.length) {
    // While a word is being typed, its mistake is expected: said quietly.
    return <p className="border-l-3 border-copper pl-2 text-[13px]" aria-live="polite">{sentence(`${mistake.message}; ${mistake.advice}`)}</p>
  }
  if (mistake) return <Trouble message={mistake.message} advice={mistake.advice} />
  const effect = effects?.at(-1)
  return (
    <p className="border-l-3 border-verdigris pl-2 text-[13px]" aria-live="polite">
      {effect?.words}
      {firstValues(tried.data, settled)}
    </p>
  )
}

const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** The first values of the column that "work out" makes. */
function firstValues(result: Prepared, text: string): string {
  const name = text.match(/^work out\s+(?:"((?:[^"]|"")*)"|([^\s=]+))\s*=/i)
  if (!name) return ''
  const wanted = (name[1]?.replaceAll('""', '"') ?? name[2]).toLowerCase()
  const at = (result.columns ?? []).findIndex((c) => c.name.toLowerCase() === wanted)
  const values = (result.first ?? []).slice(0, 6).map((row) => row?.[at] || 'missing')
  return at < 0 || values.length === 0 ? '' : `: ${values.join(', ')}${result.rows > 6 ? ' …' : ''}`
}

function useSettled(value: string, wait: number): string {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), wait)
    return () => clearTimeout(timer)
  }, [value, wait])
  return settled
}
