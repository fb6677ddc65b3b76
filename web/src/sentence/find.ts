/** Looking things up by words of the trade, and what was meant by a word that is not known. */

/** How many letters have to be changed, added, taken away, or swapped with their neighbour. */
export function distance(a: string, b: string): number {
  const rows: number[][] = [Array.from({ length: b.length + 1 }, (_, j) => j)]
  for (let i = 1; i <= a.length; i++) {
    rows.push([i])
    for (let j = 1; j <= b.length; j++) {
      let least = Math.min(rows[i - 1][j] + 1, rows[i][j - 1] + 1, rows[i - 1][j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1))
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) least = Math.min(least, rows[i - 2][j - 2] + 1)
      rows[i].push(least)
    }
  }
  return rows[a.length][b.length]
}

export interface Found {
  name: string
  help: string
  example: string
  also: string
}

/** What a search finds, what is called so before what it is only about; every word must occur. */
export function look<T extends Found>(list: T[], search: string): T[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return []
  const named = (of: T) => words.every((w) => of.name.toLowerCase().includes(w))
  const found = list.filter((of) => words.every((w) => `${of.name} ${of.help} ${of.also}`.toLowerCase().includes(w)))
  return [...found.filter(named), ...found.filter((of) => !named(of))]
}

/** The known word that is nearest to a search that finds nothing; null where none is near. */
export function nearest(list: Found[], search: string): string | null {
  const word = search.toLowerCase().trim()
  let best: string | null = null
  let least = Math.max(1, Math.floor(word.length / 3)) + 1
  for (const known of new Set(list.flatMap((of) => `${of.name} ${of.also}`.toLowerCase().split(/\s+/)))) {
    const d = known.length > 2 ? distance(word, known) : Infinity
    if (d < least) {
      least = d
      best = known
    }
  }
  return best
}
