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

/** Where a stretch of a clause's text, in characters, stands in a typed preparation, in UTF-16 units. */
export function placeIn(typed: string, clause: number, from: number, to: number): { from: number; to: number; line: number } {
  let seen = -1
  let at = 0
  const lines = typed.split('\n')
  for (const [i, line] of lines.entries()) {
    if (line.trim() !== '' && ++seen === clause) {
      const skipped = /^\s*(?:off\s+)?/i.exec(line)![0].length
      const units = (characters: number) => [...line.slice(skipped)].slice(0, characters).join('').length
      return { from: at + skipped + units(from), to: at + skipped + units(to), line: i + 1 }
    }
    at += line.length + 1
  }
  return { from: 0, to: 0, line: 1 }
}
