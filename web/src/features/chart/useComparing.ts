import { useCallback, useEffect } from 'react'
import { useNavigate } from 'react-router'
import { api, type Document } from '../../api/client'
import type { Bench } from '../../state/bench'
import { takesSingleKeys } from '../../ui/singleKeys'
import { compareAddress } from '../compare/sides'

export interface Comparing {
  /** Lays a step beside where the chart stands: the one before, unless one is said. */
  compare: (step?: number) => Promise<void>
  /** Lays the chart beside the same without its groups; what is laid beside it is kept as a step of the trail. */
  overall: () => Promise<void>
}

/** The column by whose groups a chart is split: it has a fit for each of them. */
export const splitBy = (document: Document): string | undefined => document.layers?.find((l) => l.fit?.each)?.fit?.each

/** What lays two charts beside each other; C the step before. */
export function useComparing(bench: Bench, dataset: number): Comparing {
  const navigate = useNavigate()
  const beside = useCallback(
    (chart: number, a: number, b: number) =>
      void navigate(compareAddress(dataset, { a: chart, a_step: a, a_version: 0, b: chart, b_step: b, b_version: 0 })),
    [dataset, navigate],
  )
  const compare = useCallback(
    async (step?: number) => {
      await bench.settled()
      const { chart, at } = bench.get()
      const other = step ?? bench.previous()?.id ?? bench.next()?.id
      if (chart?.id && other && other !== at) beside(chart.id, other, at)
    },
    [bench, beside],
  )
  const overall = useCallback(async () => {
    await bench.settled()
    const { chart, at, document, steps } = bench.get()
    const unite = splitBy(document)
    if (!chart?.id || !unite) return
    const together = await api.draw(chart.version_id, { document, changes: [{ unite }], width: 400, height: 300 })
    const kept = steps.find((s) => s.parent_id === at && s.name === OVERALL)
    const step = kept ?? (await api.addStep(chart.id, at, together.document))
    if (!kept) await api.markStep(chart.id, step.id, { name: OVERALL })
    await api.moveTo(chart.id, at)
    beside(chart.id, step.id, at)
  }, [bench, beside])
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      if (e.key.toLowerCase() !== 'c' || e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey || !takesSingleKeys(target)) return
      e.preventDefault()
      void compare()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [compare])
  return { compare, overall }
}

/** What a step is called that is the chart without its groups. */
const OVERALL = 'overall'
