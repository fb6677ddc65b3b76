/** What could be typed next in a clause: columns, functions, values and beginnings of clauses. */
import type { ColumnProfile, Language } from '../../api/client'
import { counted } from '../../scale/format'
import { columnText, valueText } from '../../sentence/quoting'
import type { Completion, Suggestion } from '../../ui/SuggestionList'

const WORD = /"?[\p{L}_][\p{L}\p{M}\d_ ]*$|"$/u
const PLAIN = /[\p{L}_][\p{L}\p{M}\d_]*$/u
const EXPRESSION = /^(?:off )?(?:keep (?!top)|work out .*=|for each .*:|order .* by|keep top .* by)/i

/** What a clause can name. */
export interface Nameable {
  columns: ColumnProfile[]
  datasets: string[]
  language?: Language
}

/** A dataset's name as one word of a clause: "Hive seasons" is hive_seasons. */
export const oneWord = (name: string) =>
  name
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .join('_')

/** Completes the clause whose text up to the caret is given. An empty word offers columns where one is due. */
export function complete(before: string, { columns, datasets, language }: Nameable, most = 40): Completion {
  const line = before.slice(before.lastIndexOf('\n') + 1)
  const quotes = (line.match(/'/g) ?? []).length
  if (quotes % 2 === 1) return values(before, line, columns)
  const inName = (line.match(/"/g) ?? []).length % 2 === 1
  const word = (inName ? line.match(WORD)?.[0] : line.match(PLAIN)?.[0]) ?? ''
  const from = before.length - word.length
  const wanted = word.replace('"', '').toLowerCase()
  const head = line.slice(0, line.length - word.length).trimStart()
  if (head === '' || /^off $/i.test(head)) {
    const beginnings = (language?.clauses ?? []).filter((c) => c.name.startsWith(wanted))
    return { from, suggestions: beginnings.map((c) => ({ text: `${c.name} `, name: c.name, help: c.example })) }
  }
  if (!word && !/[\s(,=<>+*/-]$/.test(head)) return { from, suggestions: [] }
  const other = /^(?:off )?(?:(join)|add rows of(?: .*,)?)\s*$/i.exec(head)
  if (other) {
    const found = datasets.filter((name) => oneWord(name).includes(wanted))
    return { from, suggestions: found.map((name) => ({ text: oneWord(name) + (other[1] ? ' by ' : ''), name: oneWord(name), help: name })) }
  }
  if (/^(?:off )?make\b/i.test(head) || /\b(?:called|meaning)\s*$/i.test(head) || /^(?:off )?work out\s*$/i.test(head)) return { from, suggestions: [] }
  const near = (text: string) => text.toLowerCase().startsWith(wanted) || text.toLowerCase().split(/[^\p{L}\d]+/u).some((part) => part.startsWith(wanted))
  const found: Suggestion[] = columns
    .filter((c) => near(c.name) || near(c.label))
    .sort((a, b) => Number(b.name.toLowerCase().startsWith(wanted)) - Number(a.name.toLowerCase().startsWith(wanted)))
    .map((c) => ({ text: columnText(c.name), name: c.name, help: [c.label === c.name ? '' : c.label, c.unit, c.meaning].filter(Boolean).join(' · '), kind: c.kind }))
  if (EXPRESSION.test(head)) {
    for (const f of language?.functions ?? []) {
      if (f.name.startsWith(wanted)) found.push({ text: `${f.name}(`, name: `${f.name}()`, help: `${f.help}, as in ${f.example}` })
    }
  }
  return { from, suggestions: found.slice(0, most) }
}

/** Inside single quotes: the groups of the column that was named last. */
function values(before: string, line: string, columns: ColumnProfile[]): Completion {
  const open = line.lastIndexOf("'")
  const wanted = line.slice(open + 1).toLowerCase()
  const from = before.length - (line.length - open)
  const head = line.slice(0, open).toLowerCase()
  const named = columns
    .filter((c) => c.kind !== 'number' && c.kind !== 'date')
    .map((c) => ({ c, at: head.lastIndexOf(c.name.toLowerCase()) }))
    .filter(({ at }) => at >= 0)
    .sort((a, b) => b.at - a.at)[0]
  const levels = named?.c.bars?.filter((b) => b.name?.toLowerCase().startsWith(wanted)) ?? []
  return { from, suggestions: levels.map((b) => ({ text: valueText(b.name!), name: b.name!, help: counted(b.count, 'row') })) }
}
