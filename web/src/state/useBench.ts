import { useRef, useSyncExternalStore } from 'react'
import type { Bench, BenchState } from './bench'

/** Parts of the bench's state; a component is rendered again when one of its own changes. */
export function useBench<Part extends keyof BenchState>(bench: Bench, ...parts: Part[]): Pick<BenchState, Part> {
  const last = useRef<BenchState | null>(null)
  return useSyncExternalStore(bench.subscribe, () => {
    const now = bench.get()
    if (!last.current || parts.some((part) => last.current![part] !== now[part])) last.current = now
    return last.current
  })
}
