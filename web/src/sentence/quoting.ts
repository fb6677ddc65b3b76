/** Names and values as they stand in typed sentences and clauses. */

/** Plain words stand as they are, other names in double quotes. */
export const columnText = (name: string) => (/^[\p{L}_][\p{L}\p{M}\d_]*$/u.test(name) ? name : `"${name.replaceAll('"', '""')}"`)

export const valueText = (value: string) => `'${value.replaceAll("'", "''")}'`
