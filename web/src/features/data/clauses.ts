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
