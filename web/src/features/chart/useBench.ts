import { useSyncExternalStore } from 'react'
import type { Bench, BenchState } from '../../state/bench'

export const useBench = (bench: Bench): BenchState => useSyncExternalStore(bench.subscribe, bench.get)
