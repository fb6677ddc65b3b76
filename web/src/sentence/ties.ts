/** Words of a note that are tied to the reading: [falls by 7 kg](reading:KEY), as in the texts of pages. */
import type { Reading } from '../figure/figure'

const TIE = /\[((?:[^[\]\\\n]|\\.)*)\]\(reading:([a-z0-9.-]{1,60})(?: "(?:[^"\\\n]|\\.)*")?\)/g

const escaped = (words: string) => words.replace(/[\\`*_[\]<>"&!|~#]/g, '\\$&').replace(/\s*\n\s*/g, ' ')

/** Writes words that are tied to a statement. */
export const tied = (key: string, words: string): string => `[${escaped(words)}](reading:${key})`

const textOf = (p: Reading['paragraphs'][0]) => p.spans.map((s) => s.text).join('')

/** What a reading says first, as words of one's own: cautions are for whoever works on the chart, but for a bend and what size shows. */
export const noteOf = (reading: Reading): string =>
  reading.paragraphs
    .filter((p) => p.kind !== 'caution' || p.noted)
    .map((p) => (p.key ? tied(p.key, textOf(p)) : textOf(p)))
    .join(' ')

/** A note that was written on, with what still stands of its tied words tied as it was. */
export function retied(text: string, before: string, reading: Reading | undefined): string {
  let out = text
  for (const [, , key] of before.matchAll(TIE)) {
    const said = reading?.paragraphs.find((p) => p.key === key)
    const words = said && textOf(said)
    if (words && out.includes(words)) out = out.replace(words, () => tied(key, words))
  }
  return out
}
