import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { api, type Refusal } from '../../api/client'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { useDone } from '../../ui/useDone'

/** How long a chart must stand before all rows are asked: who tries one word after the other asks for the last. */
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

/** Asks all rows of a table that stays elsewhere what the chart on the bench needs, one question after the other. */
export function useWhole(bench: Bench, asks: boolean): WholeAsking {
  const { drawing } = useBench(bench, 'drawing')
  const queries = useQueryClient()
  const [running, setRunning] = useState<WholeAsking['running']>(null)
  const [failed, setFailed] = useState<ReadonlyMap<string, Refusal>>(new Map())
  const [stopped, setStopped] = useState(false)
  const parts = useParts(running !== null)
  const stop = useRef<AbortController | null>(null)
  const whole = asks && !stopped ? drawing?.figure.elsewhere : undefined
  const next = whole?.questions.find((q) => !q.known && !failed.has(q.key))
  const document = drawing?.document
  const latest = useRef(document)
  useEffect(() => {
    latest.current = document
  })
  const key = next?.key
  const words = next?.words
  useEffect(() => {
    if (!key || !words) return
    const asked = (stop.current = new AbortController())
    const timer = setTimeout(async () => {
      setRunning({ key, words, since: Date.now() })
      try {
        await api.askWhole(bench.version, { document: latest.current!, key }, asked.signal)
        void queries.invalidateQueries({ queryKey: ['whole', bench.version] })
        bench.refresh()
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
