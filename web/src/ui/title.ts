/** What a window is called, and what is said to whoever listens. */
import { useEffect } from 'react'
import { base } from '../api/space'

const LINE = 'announced'

/** Says something once, politely, to whoever listens to the page. */
export function announce(text: string): void {
  let line = document.getElementById(LINE)
  if (!line) {
    line = document.createElement('p')
    line.id = LINE
    line.setAttribute('role', 'status')
    line.className = 'sr-only'
    document.body.append(line)
  }
  if (line.textContent === text) return
  line.textContent = text
  clearTimeout(quiet)
  quiet = setTimeout(() => (line.textContent = ''), QUIET) // the same words are heard again when they are said again
}

let quiet: ReturnType<typeof setTimeout> | undefined
/** How long what was said stands, in milliseconds. */
const QUIET = 4000

/** Where the window was, as far as its view. */
let was: string | null = null

/** Names the window by what is looked at, the nearest first; moving to another view is announced. */
export function useTitle(...parts: (string | undefined)[]): void {
  const title = [...parts.filter(Boolean), 'Copper Lark'].join(' · ')
  useEffect(() => {
    if (document.title === title) return
    document.title = title
    const place = location.pathname.slice(base.length).split('/').slice(0, 4).join('/') // a chart that gets a name is the same place
    if (was !== null && was !== place) announce(title) // the first view is read out anyway
    was = place
  }, [title])
}
