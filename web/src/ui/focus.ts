/** Keeps the focus where the hand's work goes on: it never falls out of the page with what goes away. */
import { useEffect, type RefObject } from 'react'

/** Parts of a page that the focus can fall back to. */
const PARTS = 'dialog, [role=dialog], [role=region], section[aria-label]:not(#over), aside[aria-label], main, form'

/** What had the focus last, and the parts that it stood in, the nearest first. */
let last: Element | null = null
let within: HTMLElement[] = []

/** Gives an element the focus, whether or not the tab key stops there. */
export function focusOn(element: HTMLElement | null | undefined): boolean {
  if (!element?.isConnected) return false
  if (element.tabIndex < 0 && !element.hasAttribute('tabindex')) element.tabIndex = -1
  element.focus({ preventScroll: true })
  return document.activeElement === element
}

/** Where the focus goes when what had it is gone: the nearest part that still stands, else what the view is about. */
function caught(): void {
  if (!last || last.isConnected || (document.activeElement && document.activeElement !== document.body)) return
  // A view that is on its way has no part yet: then what comes next is tried.
  if (within.some(focusOn) || focusOn(document.querySelector<HTMLElement>('main') ?? document.querySelector<HTMLElement>('h1'))) last = null
}

/** Whether what had the focus has just gone from a part, to which the focus comes back in a moment. */
export const comesBackTo = (part: string): boolean => last !== null && !last.isConnected && within.some((at) => at.matches(part))

/** Watches the page from its beginning on. */
export function keepFocus(): void {
  document.addEventListener('focusin', (e) => {
    const before = within
    last = e.target as Element
    within = []
    // What opens over the page stands in no part of it: behind it is the part that it was opened from.
    const over = last.closest('main, section[aria-label]:not(#over), aside[aria-label], header') === null
    for (let at = last.parentElement?.closest<HTMLElement>(PARTS); at; at = at.parentElement?.closest<HTMLElement>(PARTS)) within.push(at)
    if (over) within.push(...before.filter((part) => part.isConnected))
  })
  // What takes the focus on purpose does so first.
  new MutationObserver(() => last && !last.isConnected && setTimeout(caught, 0)).observe(document.body, { childList: true, subtree: true })
}

/** Gives a part the focus when it comes to stand in the place of another. */
export function useFocusHere(part: RefObject<HTMLElement | null>, of: unknown): void {
  useEffect(() => void focusOn(part.current), [part, of])
}
