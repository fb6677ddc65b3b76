import { useCallback, useEffect, useRef } from 'react'
import type { SubjectHand } from '../together/useSubject'
import type { PageHand } from './usePage'

/** After how long without a letter a block is anybody's again, in milliseconds. */
const IDLE = 120_000

/** Says in which block one writes, while one does: it is one writer's at a time. */
export function useStanding({ setHere }: Pick<PageHand, 'setHere'>, { stand }: SubjectHand): (block: string) => void {
  const at = useRef('')
  const timer = useRef(0)
  useEffect(() => () => clearTimeout(timer.current), [])
  return useCallback(
    (block: string) => {
      clearTimeout(timer.current)
      if (block)
        timer.current = window.setTimeout(() => {
          at.current = ''
          void stand('')
        }, IDLE)
      if (block === at.current) return
      at.current = block
      void stand(block).then((taken) => {
        if (taken === null || at.current !== block) return
        at.current = '' // another came first
        setHere('')
      })
    },
    [stand, setHere],
  )
}
