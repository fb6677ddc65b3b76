import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { api, Refusal, type Chart } from '../../api/client'

/** The name of a chart, changed where it stands. */
export function ChartName({ chart, at }: { chart: Chart; at: number }) {
  const queries = useQueryClient()
  const found = useQuery({ queryKey: ['charts', 'name', chart.id], queryFn: () => api.findCharts({ chart: chart.id }) })
  const name = found.data?.charts[0]?.name ?? chart.name
  // A name that nobody said follows the sentence: another step, perhaps another name.
  useEffect(() => void queries.invalidateQueries({ queryKey: ['charts'] }), [queries, at])
  return (
    <Renaming
      name={name}
      rename={async (next) => void (await api.renameChart(chart.id, next), await queries.invalidateQueries({ queryKey: ['charts'] }))}
    />
  )
}

/** A name that becomes a field when it is pressed: Enter keeps what is typed, Escape leaves it as it was. */
export function Renaming({
  name,
  rename,
  label = 'Name of the chart',
}: {
  name: string
  rename: (name: string) => Promise<void>
  label?: string
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const [trouble, setTrouble] = useState('')
  const button = useRef<HTMLButtonElement>(null)
  const byKey = useRef(false) // left by a key, the name has the focus again
  useEffect(() => {
    if (typed !== null || !byKey.current) return
    byKey.current = false
    button.current?.focus()
  }, [typed])
  const keep = async () => {
    const next = typed?.trim() ?? ''
    if (next === '' || next === name) return setTyped(null)
    try {
      await rename(next)
      setTrouble('')
      setTyped(null)
    } catch (fault) {
      setTrouble((fault as Refusal).message) // what was typed stays
    }
  }
  const press = (e: KeyboardEvent) => {
    e.stopPropagation()
    byKey.current = e.key === 'Enter' || e.key === 'Escape'
    if (e.key === 'Enter') void keep()
    if (e.key === 'Escape') {
      setTrouble('')
      setTyped(null)
    }
  }
  if (typed === null)
    return (
      <button
        ref={button}
        type="button"
        className="min-w-0 truncate rounded px-1 hover:bg-bar-here hover:text-bar-ink"
        title="Press to rename"
        aria-label={`${label}: ${name}. Press to rename`}
        onClick={() => setTyped(name)}
      >
        {name}
      </button>
    )
  return (
    <span className="flex min-w-0 items-center gap-2">
      <input
        autoFocus
        aria-label={label}
        aria-invalid={trouble !== ''}
        className="w-72 min-w-0 rounded border border-copper bg-paper px-2 py-0.5 text-ink"
        value={typed}
        maxLength={300}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => void keep()}
        onKeyDown={press}
      />
      {trouble && (
        <span role="alert" className="truncate text-[13px] text-copper-bright">
          {trouble}
        </span>
      )}
    </span>
  )
}
