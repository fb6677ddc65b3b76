import { comesBackTo } from './focus'

/** Whether keys without Ctrl or Alt do something: "/" and the arrows of the trail, letters and signs on the chart. */
const KEPT = 'single-keys'
/** Where single keys of the page act: on the sentence, the chart and the trail, where two charts are compared, and nowhere else. */
const PLACES = 'section[aria-label=Sentence], section[aria-label=Chart], section[aria-label=Trail], [data-takes-keys]'
const NOWHERE = 'input, textarea, select, dialog, [role=dialog], [role=menu], [contenteditable=true]'

export const singleKeys = (): boolean => localStorage.getItem(KEPT) !== 'off'

export const setSingleKeys = (on: boolean): void => localStorage.setItem(KEPT, on ? 'on' : 'off')

export function takesSingleKeys(target: EventTarget | null): boolean {
  if (!singleKeys() || !(target instanceof Element)) return false
  if (target === document.body) return comesBackTo(PLACES)
  return target.closest(PLACES) !== null && target.closest(NOWHERE) === null
}
