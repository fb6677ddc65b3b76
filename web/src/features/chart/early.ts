/** What a chart's view will ask for is asked for as soon as the page is there, beside who one is; each answer is taken once. */
import { api } from '../../api/client'

const found = /\/dataset\/(\d+)\/chart\/(\d+)$/.exec(globalThis.location?.pathname ?? '')

function once<T>(id: number, ask: (id: number) => Promise<T>): (of: number) => Promise<T> {
  let waiting: Promise<T> | null = id ? ask(id) : null
  waiting?.catch(() => {}) // whoever takes it hears of it
  return (of) => {
    const taken = of === id ? waiting : null
    waiting = null
    return taken ?? ask(of)
  }
}

export const chartAsked = once(Number(found?.[2] ?? 0), api.chart)
