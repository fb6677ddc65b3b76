import { useSyncExternalStore } from 'react'

/** The widest window that counts as narrow. */
const narrow = matchMedia('(max-width: 1100px)')

/** Whether the window is narrow: the reading stands under the chart then, and the trail is a row of points. */
export const useNarrow = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      narrow.addEventListener('change', listener)
      return () => narrow.removeEventListener('change', listener)
    },
    () => narrow.matches,
  )
