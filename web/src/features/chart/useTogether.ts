import { useEffect, useMemo, useSyncExternalStore } from 'react'
import type { Me } from '../../api/client'
import type { Bench } from '../../state/bench'
import { Together, type TogetherState } from '../../state/together'
import { useNotesChanged } from '../notes/useNotes'
import { useBench } from '../../state/useBench'

export type TogetherHand = TogetherState & { seen: () => void }

/** Follows the chart of a bench while it is open: who else is here, and what they do. */
export function useTogether(bench: Bench, me: Me): TogetherHand {
  const notes = useNotesChanged()
  const together = useMemo(() => new Together(bench, me.id, notes), [bench, me.id, notes])
  const { chart } = useBench(bench, 'chart')
  const id = chart?.id ?? 0
  useEffect(() => {
    if (!id) return
    together.follow(id, bench.get().chart?.events ?? 0)
    return () => together.leave()
  }, [together, bench, id])
  const state = useSyncExternalStore(together.listen, together.get)
  return { ...state, seen: () => together.seen() }
}
