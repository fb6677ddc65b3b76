/** What could be typed next in the sentence of a chart: clauses, columns and ways of fitting. */
import type { ColumnProfile } from '../api/client'
import type { Completion, Suggestion } from '../ui/SuggestionList'
import { columnText } from './quoting'

const CLAUSES: [text: string, help: string][] = [
  ['plot ', 'plot honey_kg against forage_ha'],
  ['log x', 'a log scale along x'],
  ['log y', 'a log scale along y'],
  ['colour by ', 'groups or numbers by colour'],
  ['size by ', 'numbers by area'],
  ['shape by ', 'groups by shape'],
  ['opacity ', 'how much a mark covers: opacity 0.5'],
  ['fit ', 'fit line for each district and overall with band 95%'],
  ['x from ', "x from 1 to 2500 titled 'Forage area' in 'ha'"],
  ['y from ', "y from 0 to 40 titled 'Honey yield' in 'kg'"],
  ['title ', "title 'More forage, more honey'"],
  ['note ', "note 'Hives weighed at the autumn check'"],
]

const FITS: [text: string, help: string][] = [
  ['line', 'a straight line'],
  ['curve degree 2', 'a polynomial, of degree 2 to 5'],
  ['local', 'local regression'],
  ['spline', 'a smoothing spline'],
  ['robust line', 'a line that outliers do not move'],
]

const FIT_TAILS: [text: string, help: string][] = [
  ['for each ', 'a fit for each group'],
  ['overall', 'a fit of all rows'],
  ['and overall', 'and one of all rows'],
  ['with band 95%', 'the band of the mean'],
  ['with prediction band 95%', 'the band of single cases'],
  ['leaving out outliers', 'fitted again without them'],
]

const of = (list: [string, string][], wanted: string): Suggestion[] => list.filter(([text]) => text.startsWith(wanted)).map(([text, help]) => ({ text, name: text.trim(), help }))

/** Completes the clause whose text up to the caret is given. */
export function completeChart(before: string, columns: ColumnProfile[], most = 9): Completion {
  const line = before.slice(before.lastIndexOf('\n') + 1)
  if ((line.match(/'/g) ?? []).length % 2 === 1) return { from: before.length, suggestions: [] } // inside a text
  const word = line.match(/"?[\p{L}_][\p{L}\p{M}\d_]*$|"$/u)?.[0] ?? ''
  const from = before.length - word.length
  const wanted = word.replace('"', '').toLowerCase()
  const head = line.slice(0, line.length - word.length).trimStart().toLowerCase()
  let found: Suggestion[] = []
  if (head === '') found = of(CLAUSES, wanted)
  else if (/\b(plot|against|by|each)\s+$/.test(head)) {
    const starts = (text: string) => text.toLowerCase().split(/[^\p{L}\d]+/u).some((part) => part.startsWith(wanted)) || text.toLowerCase().startsWith(wanted)
    found = columns.filter((c) => starts(c.name) || starts(c.label)).map((c) => ({ text: columnText(c.name), name: c.name, help: [c.label === c.name ? '' : c.label, c.unit].filter(Boolean).join(' · '), kind: c.kind }))
  } else if (/^plot\s+\S+\s+$/.test(head)) found = of([['against ', 'the axis along x']], wanted)
  else if (/^fit\s+$/.test(head)) found = of(FITS, wanted)
  else if (/^fit\s/.test(head)) found = of(FIT_TAILS, wanted)
  return { from, suggestions: found.slice(0, most) }
}
