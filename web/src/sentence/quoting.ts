/** Names and values as they stand in typed sentences and clauses. */

/** Plain words stand as they are, other names in double quotes. */
export const columnText = (name: string) => (/^[\p{L}_][\p{L}\p{M}\d_]*$/u.test(name) ? name : `"${name.replaceAll('"', '""')}"`)

export const valueText = (value: string) => `'${value.replaceAll("'", "''")}'`

/** A condition that takes the rows of some groups of a column. */
export function conditionOf(column: string, groups: string[], kind?: string): string {
  const name = columnText(column)
  const values = groups.map((g) => (kind === 'number' ? g : valueText(g)))
  if (kind === 'yes / no')
    return groups.length > 1
      ? `(${groups.map((g) => (g === 'yes' ? name : `not ${name}`)).join(' or ')})`
      : groups[0] === 'yes'
        ? name
        : `not ${name}`
  return values.length === 1 ? `${name} = ${values[0]}` : `${name} in (${values.join(', ')})`
}

/** A condition beside one that stands already. */
export const andAlso = (before: string | undefined, condition: string) => (before ? `(${before}) and ${condition}` : condition)
