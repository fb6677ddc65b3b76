/**
 * Requests that are on their way. A page that waits long says for what, and can stop it:
 * a stopped request stops its work on the server.
 */
export interface Pending {
  since: number
  stop: () => void
}

let list: readonly Pending[] = []
const listeners = new Set<() => void>()

const tell = (next: readonly Pending[]) => {
  list = next
  listeners.forEach((listener) => listener())
}

/** Notes a request until the function that it gives is called. */
export function noted(stop: () => void): () => void {
  const one: Pending = { since: Date.now(), stop }
  tell([...list, one])
  return () => tell(list.filter((other) => other !== one))
}

export const pending = {
  get: () => list,
  subscribe: (listener: () => void) => {
    listeners.add(listener)
    return () => void listeners.delete(listener)
  },
  stopAll: () => list.forEach((one) => one.stop()),
}
