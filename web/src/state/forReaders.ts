import { api, type Chart, type Document, type Step } from '../api/client'
import type { BenchServer } from './bench'

/** What the bench asks of the server for somebody who reads: charts are drawn, and the trail of what they try is theirs until they leave. */
export function forReaders(): BenchServer {
  let last = 0
  const step = (document: Document, parent_id: number, words: string): Step => ({
    id: --last, // below all that are kept
    parent_id,
    words,
    document,
    created_at: new Date().toISOString(),
  })
  return {
    draw: api.draw,
    addChart: async (version_id, document) => {
      const first = step(document, 0, 'first look')
      const name = 'Not kept'
      return { id: 0, name, version_id, head_step_id: first.id, document, steps: [first] } as unknown as Chart
    },
    addStep: async (_, parent, document, words) => step(document, parent, words),
    moveTo: async () => {},
    step: api.step, // of those that are kept; their own have theirs
    trail: api.trail,
  }
}
