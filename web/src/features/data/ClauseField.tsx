import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, type Prepared } from '../../api/client'
import { TypedEditor } from '../../ui/TypedEditor'
import { Trouble } from '../../ui/Words'
import { printClauses, type Clause } from './clauses'

interface Props {
  label: string
  text: string
  setText: (text: string) => void
  say: () => void
  /** The version and the clauses before this one. */
  version: number
  before: Clause[]
  placeholder?: string
}

/** One clause being typed or pressed together, with what could come next and what it would do. */
export function ClauseField({ label, text, setText, say, version, before, placeholder }: Props) {
  const above = printClauses(before)
  return (
    <div className="flex flex-col gap-2 text-[14px]">
      <TypedEditor
        single
        eager
        label={label}
        text={text}
        setText={setText}
        complete={(typed, signal) => api.completePreparation(version, above + typed, signal)}
        about={['clause', version, above]}
        placeholder={placeholder}
        rows={2}
        keep={say}
      >
        <Outcome version={version} before={before} text={text} />
      </TypedEditor>
    </div>
  )
}

/** What the clause would do: the first values that it works out, the rows that it takes, or what is wrong. */
function Outcome({ version, before, text }: { version: number; before: Clause[]; text: string }) {
  const settled = useSettled(text.trim(), 180)
  const typed = printClauses([...before, { text: settled }])
  const tried = useQuery({
    queryKey: ['prepared', version, typed],
    queryFn: ({ signal }) => api.prepare(version, typed, signal),
    enabled: settled !== '',
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  })
  if (!tried.data || !settled) return null
  const { mistake, effects } = tried.data
  if (mistake && mistake.clause === before.length) {
    // While a word is being typed, its mistake is expected: said quietly.
    return (
      <p className="border-l-3 border-copper pl-2 text-[13px]" aria-live="polite">
        {sentence(`${mistake.message}; ${mistake.advice}`)}
      </p>
    )
  }
  if (mistake) return <Trouble message={mistake.message} advice={mistake.advice} />
  const effect = effects?.at(-1)
  return (
    <p className="border-l-3 border-verdigris pl-2 text-[13px]" aria-live="polite">
      {effect?.words}
      {firstValues(tried.data, effect?.makes)}
    </p>
  )
}

const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** The first values of the column that the clause makes. */
function firstValues(result: Prepared, wanted: string | undefined): string {
  const at = (result.columns ?? []).findIndex((c) => c.name === wanted)
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
