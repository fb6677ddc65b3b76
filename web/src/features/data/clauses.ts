/** The clauses of a preparation, as a list and typed. */

export interface Clause {
  text: string
  off?: boolean
}

export const printClauses = (clauses: Clause[]) => clauses.map((c) => `${c.off ? 'off ' : ''}${c.text}\n`).join('')

/** One clause a line; a line that begins with "off" is switched off. */
export const parseClauses = (typed: string): Clause[] =>
  typed
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => (/^off\s/i.test(line) ? { text: line.slice(4).trim(), off: true } : { text: line }))

/** A part of a clause as it is spoken: plain words, what names columns, or a way of doing something. */
export interface Part {
  text: string
  tone: 'plain' | 'column' | 'way'
}

const NAME = String.raw`(?:"(?:[^"]|"")*"|[\p{L}_][\p{L}\p{M}\d_]*)`

type Shape = [pattern: RegExp, parts: (groups: string[], say: (names: string) => string) => Part[]]

const plain = (text: string): Part => ({ text, tone: 'plain' })
const column = (text: string): Part => ({ text, tone: 'column' })
const way = (text: string): Part => ({ text: text.replaceAll('>=', '≥').replaceAll('<=', '≤').replaceAll('<>', '≠'), tone: 'way' })

/** How clauses are spoken, by their shape; what is none of these is spoken as it is typed. */
const SHAPES: Shape[] = [
  [/^leave out missing$/i, () => [plain('Leave out rows missing '), column('any value')]],
  [/^leave out missing (.+)$/i, ([names], say) => [plain('Leave out rows missing '), column(say(names))]],
  [new RegExp(`^keep top (\\d+) (${NAME}) by (.+?)(?:, rest as '(.*)')?$`, 'iu'), ([n, name, by, rest], say) => [plain(`Keep the top ${n} of `), column(say(name)), plain(' by '), way(by), plain(rest === undefined ? '' : `, the rest as ${rest}`)]],
  [/^keep (.+)$/i, ([condition]) => [plain('Keep rows where '), way(condition)]],
  [new RegExp(`^work out (${NAME})\\s*=\\s*(.+)$`, 'iu'), ([name, expression], say) => [plain('Work out '), column(say(name)), plain(' = '), way(expression)]],
  [new RegExp(`^read (${NAME}) as (yes ?/ ?no|\\w+)(.*)$`, 'iu'), ([name, kind, rest], say) => [plain('Read '), column(say(name)), plain(' as '), way(kind.replace(/ ?\/ ?/, ' / ')), plain(rest)]],
  [new RegExp(`^order (${NAME}) (by|as) (.+)$`, 'iu'), ([name, how, by], say) => [plain('Order '), column(say(name)), plain(` ${how} `), way(by)]],
  [/^for each (.+?): (.+)$/i, ([names, aggregates], say) => [plain('For each '), column(say(names)), plain(': '), way(aggregates)]],
  [/^sort by (.+)$/i, ([names], say) => [plain('Sort by '), column(say(names))]],
  [/^drop duplicates of (.+)$/i, ([names], say) => [plain('Keep one row for each '), column(say(names))]],
  [/^join names (.+) into (.+)$/i, ([names, name], say) => [plain('Join the names of '), column(say(names)), plain(' into '), column(say(name))]],
  [/^join (.+?) by (.+?)( keeping matched rows)?$/i, ([dataset, keys, matched], say) => [plain('Join '), way(dataset), plain(' by '), column(say(keys)), plain(matched ? ', matched rows only' : '')]],
]

/** The words of a clause; say gives a column's name as people say it. */
export function spoken(text: string, say: (name: string) => string): Part[] {
  const names = (list: string) => list.replace(new RegExp(NAME, 'gu'), (name) => say(name.startsWith('"') ? name.slice(1, -1).replaceAll('""', '"') : name))
  for (const [pattern, parts] of SHAPES) {
    const groups = text.match(pattern)
    if (groups) return parts(groups.slice(1), names).filter((p) => p.text !== '')
  }
  const space = text.indexOf(' ')
  const first = text.charAt(0).toUpperCase() + text.slice(1)
  return space < 0 ? [column(first)] : [plain(first.slice(0, space + 1)), way(text.slice(space + 1))]
}
