import { useEffect } from 'react'
import type { Step } from '../../api/client'
import { takesSingleKeys } from '../../ui/singleKeys'

/** Arrows move the chosen side along its trail, S swaps the sides, Escape goes back to one. */
export function useCompareKeys({
  steps,
  at,
  put,
  swap,
  back,
}: {
  steps: Step[]
  at: number
  put: (step: number) => void
  swap: () => void
  back: () => void
}) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      if (e.defaultPrevented || e.altKey || e.ctrlKey || e.metaKey || target.closest('input, textarea, select, [role=slider], canvas'))
        return
      const here = steps.find((s) => s.id === at)
      const step = {
        ArrowLeft: steps.find((s) => s.id === here?.parent_id),
        ArrowRight: steps.findLast((s) => s.parent_id === at),
      }[e.key]
      if (step) put(step.id)
      else if (e.key === 'Escape') back()
      else if (e.key.toLowerCase() === 's' && takesSingleKeys(target)) swap()
      else return
      e.preventDefault()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [steps, at, put, swap, back])
}
