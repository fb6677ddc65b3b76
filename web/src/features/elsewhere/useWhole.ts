import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { api, type Document, type Refusal, type Schemas } from '../../api/client'
import type { Whole } from '../../figure/figure'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { useDone } from '../../ui/useDone'

/** How long what asks must stand before all rows are asked: who tries one word after the other asks for the last. */
const SETTLED = 500

/** What is asked of all rows while a chart stands. */
export interface WholeAsking {
  /** The question that is asked now. */
  running: { key: string; words: string; since: number } | null
  /** How far it is. */
  parts: { done: number; of: number } | null
  /** Questions that could not be answered, by their keys. */
  failed: ReadonlyMap<string, Refusal>
  stopped: boolean
  stop: () => void
  /** Goes on, and tries once more what failed. */
  goOn: () => void
}

/** What asks all rows: a chart, or what is told beside it, with its questions as they stand now. */
export interface Asker {
  questions: Whole['questions']
  document?: Document
  for?: Schemas['WholeWanted']['for']
  column?: string
}

/** What shows a version, and is to be drawn anew once more is known: a bench; always the same one. */
export type Refreshed = Pick<Bench, 'version' | 'refresh'>

/** What is told beside a chart, and of columns, which answers change: under which name it is held. */
const BESIDE = { explanations: 'explanations', evidence: 'evidence', checks: 'holds', summary: 'summary' }

/** Asks all rows of a table that stays elsewhere what a chart on the bench needs, one question after the other. */
export function useWhole(bench: Bench, asks: boolean): WholeAsking {
  const { drawing } = useBench(bench, 'drawing')
  const questions = drawing?.figure.elsewhere?.questions
  return useAsking(bench, asks, questions && { questions, document: drawing.document })
}

/** Asks all rows what something needs of them. */
export function useAsking(bench: Refreshed, asks: boolean, asker: Asker | undefined): WholeAsking {
  const queries = useQueryClient()
  const [running, setRunning] = useState<WholeAsking['running']>(null)
  const [failed, setFailed] = useState<ReadonlyMap<string, Refusal>>(new Map())
  const [stopped, setStopped] = useState(false)
  const parts = useParts(running !== null)
  const stop = useRef<AbortController | null>(null)
  const next = asks && !stopped ? asker?.questions.find((q) => !q.known && !failed.has(q.key)) : undefined
  const latest = useRef(asker)
  useEffect(() => {
    latest.current = asker
  })
  const key = next?.key
  const words = next?.words
  useEffect(() => {
    if (!key || !words) return
    const asked = (stop.current = new AbortController())
    const timer = setTimeout(async () => {
      setRunning({ key, words, since: Date.now() })
      const { questions, document, column, for: of } = latest.current!
      try {
        await api.askWhole(bench.version, { document, column, for: of, key }, asked.signal)
        // What others tell is worked out anew once nothing is open any more: each of it costs.
        const last = questions.every((q) => q.known || q.key === key)
        const changed = last ? Object.values(BESIDE) : of && of !== 'chart' ? [BESIDE[of]] : []
        await Promise.all(['whole', ...changed].map((name) => queries.invalidateQueries({ queryKey: [name, bench.version] })))
        if (!of) bench.refresh()
      } catch (fault) {
        if (!asked.signal.aborted) setFailed((before) => new Map(before).set(key, fault as Refusal))
      }
      if (stop.current === asked) setRunning(null)
    }, SETTLED)
    return () => {
      clearTimeout(timer)
      asked.abort()
      setRunning(null)
    }
  }, [bench, key, words, queries])
  return {
    running,
    parts,
    failed,
    stopped,
    stop: useCallback(() => setStopped(true), []),
    goOn: useCallback(() => {
      setStopped(false)
      setFailed(new Map())
    }, []),
  }
}

const PARTS = /^(\d+) of (\d+) parts$/

/** How far the question is that is asked, in parts of the table. */
function useParts(active: boolean): WholeAsking['parts'] {
  const said = PARTS.exec(useDone(active, PARTS))
  return said && { done: Number(said[1]), of: Number(said[2]) }
}
