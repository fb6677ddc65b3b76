/**
 * Rows that were pressed or drawn around: the same in every chart of a version of a dataset,
 * under Data, and in the other windows of this browser.
 */
import { useSyncExternalStore } from 'react'

interface Chosen {
  version: number
  rows: number[]
}

let chosen: Chosen | null = null
const listeners = new Set<() => void>()
const others = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('chosen rows')

function take(next: Chosen | null): void {
  chosen = next
  for (const listener of listeners) listener()
}

others?.addEventListener('message', (e: MessageEvent<Chosen | null>) => take(e.data))

/** Chooses rows of a version, here and in other windows; none lets go. */
export function chooseRows(version: number, rows: number[]): void {
  if (rows.length === 0 && chosen?.version !== version) return
  take(rows.length > 0 ? { version, rows } : null)
  others?.postMessage(chosen)
}

/** The rows of a version that are chosen now; null: none. */
export const chosenRows = (version: number): number[] | null => (chosen?.version === version ? chosen.rows : null)

export function useChosenRows(version: number): number[] | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => chosenRows(version),
  )
}
