import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { useMakes } from '../../ui/may'
import { api, Refusal, type DatasetWithColumns, type Version } from '../../api/client'
import { parseClauses, printClauses, type Clause } from './clauses'
import { versionsChanged } from './renewed'

/** How the clauses became what they are: undo and redo walk along it. */
interface History {
  past: Clause[][]
  now: Clause[]
  next: Clause[][]
}

/**
 * The preparation of a dataset's newest version: what was kept, what is tried now,
 * and what it makes of the version that it begins with. What is tried is kept as the
 * person's draft, so that leaving the view loses nothing.
 */
export function usePreparation(data: DatasetWithColumns, versions: Version[], draft: string) {
  const queries = useQueryClient()
  const { dataset } = data
  const newest = versions[0]
  const base = versions.find((v) => v.id === newest.prepared_from) ?? newest
  const kept = (newest.preparation ?? []) as Clause[]
  const [history, setHistory] = useState<History>(() =>
    draft ? { past: [kept], now: parseClauses(draft), next: [] } : { past: [], now: kept, next: [] },
  )
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const clauses = history.now
  const typed = printClauses(clauses)
  const changed = typed !== printClauses(kept)
  const settle = useDraft(dataset.id, changed ? typed : '', draft)
  const prepared = useQuery({
    queryKey: ['prepared', base.id, typed],
    queryFn: ({ signal }) => api.prepare(base.id, typed, signal),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  })
  const original = useQuery({ queryKey: ['prepared', base.id, ''], queryFn: () => api.prepare(base.id, ''), staleTime: Infinity })
  return {
    dataset,
    newest,
    base,
    clauses,
    typed,
    changed,
    result: prepared.data,
    fetching: prepared.isFetching,
    fault: prepared.error,
    trouble,
    /** Of the version that the preparation begins with. */
    original: original.data,
    /** What the view shows: the kept version itself, or the base with what is tried. */
    shown: changed ? { version: base.id, typed } : { version: newest.id, typed: '' },
    columns: changed && prepared.data ? (prepared.data.columns ?? []) : (data.columns ?? []),
    rows: changed && prepared.data ? prepared.data.rows : dataset.rows,
    mistake: changed ? prepared.data?.mistake : undefined,
    /** While somebody types, many changes are one that can be undone. */
    change(next: Clause[], typing = false) {
      setTrouble(null)
      setHistory((h) =>
        printClauses(next) === printClauses(h.now)
          ? h
          : {
              past: typing && h.past.at(-1) !== undefined && h.next === typingMark ? h.past : [...h.past, h.now],
              now: next,
              next: typing ? typingMark : [],
            },
      )
    },
    undo:
      history.past.length === 0
        ? undefined
        : () => setHistory((h) => ({ past: h.past.slice(0, -1), now: h.past.at(-1)!, next: [h.now, ...h.next] })),
    redo:
      history.next.length === 0
        ? undefined
        : () => setHistory((h) => ({ past: [...h.past, h.now], now: h.next[0], next: h.next.slice(1) })),
    leave: () => setHistory((h) => ({ past: [...h.past, h.now], now: kept, next: [] })),
    async keep() {
      setTrouble(null)
      try {
        await api.keepPreparation(base.id, typed)
        settle()
        await versionsChanged(queries, dataset.id)
      } catch (fault) {
        setTrouble(fault as Refusal)
      }
    },
  }
}

/**
 * Keeps a draft a moment after it changed, and at once where the view is left. What it gives
 * says that there is no draft any more.
 */
function useDraft(dataset: number, typed: string, first: string): () => void {
  const queries = useQueryClient()
  const kept = useRef(first)
  const last = useRef(typed)
  const note = useCallback(
    (said: string) => {
      kept.current = said
      queries.setQueryData(['draft', dataset], { typed: said, changed_at: '' })
    },
    [dataset, queries],
  )
  const makes = useMakes()
  const keep = useCallback(() => {
    if (kept.current === last.current || !makes) return
    note(last.current)
    void api.keepDraft(dataset, last.current)
  }, [dataset, note, makes])
  useEffect(() => {
    last.current = typed
    const timer = setTimeout(keep, 400)
    return () => clearTimeout(timer)
  }, [typed, keep])
  useEffect(() => {
    addEventListener('pagehide', keep)
    return () => {
      removeEventListener('pagehide', keep)
      keep()
    }
  }, [keep])
  return () => {
    last.current = ''
    note('')
  }
}

/** Nothing to redo, and the last change was typed. */
const typingMark: Clause[][] = []

export type Preparation = ReturnType<typeof usePreparation>
