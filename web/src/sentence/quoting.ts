/** Names and values as they stand in typed sentences and clauses. */

/** Plain words stand as they are, other names in double quotes. */
export const columnText = (name: string) => (/^[\p{L}_][\p{L}\p{M}\d_]*$/u.test(name) ? name : `"${name.replaceAll('"', '""')}"`)

export const valueText = (value: string) => `'${value.replaceAll("'", "''")}'`

/** A condition that takes the rows of some groups of a column, beside one that stands already. */
export function conditionOf(before: string | undefined, column: string, groups: string[], kind?: string): string {
  const name = columnText(column)
  const values = groups.map((g) => (kind === 'number' ? g : valueText(g)))
  let only = values.length === 1 ? `${name} = ${values[0]}` : `${name} in (${values.join(', ')})`
  if (kind === 'yes / no') only = groups.map((g) => (g === 'yes' ? name : `not ${name}`)).join(' or ')
  return before ? `(${before}) and ${only}` : only
}
