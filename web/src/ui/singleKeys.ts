/** Whether keys without Ctrl or Alt do something: "/" and the arrows of the trail, letters and signs on the chart. */
const KEPT = 'single-keys'

export const singleKeys = (): boolean => localStorage.getItem(KEPT) !== 'off'

export const setSingleKeys = (on: boolean): void => localStorage.setItem(KEPT, on ? 'on' : 'off')

/** Where single keys of the page act: on the sentence, the chart and the trail, and nowhere else. */
export const takesSingleKeys = (target: EventTarget | null): boolean =>
  singleKeys() &&
  target instanceof Element &&
  target.closest('section[aria-label=Sentence], section[aria-label=Chart], section[aria-label=Trail]') !== null &&
  target.closest('input, textarea, select, dialog, [role=dialog], [role=menu], [contenteditable=true]') === null
