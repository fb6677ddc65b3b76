import type { QueryClient } from '@tanstack/react-query'

/** A dataset has another version: what is known of it and of its versions is asked again. */
export const versionsChanged = (queries: QueryClient, dataset: number) =>
  Promise.all([['dataset', dataset], ['versions', dataset], ['datasets']].map((queryKey) => queries.invalidateQueries({ queryKey })))

/** The same, where the version may have left a draft: it opens with that. */
export async function renewed(queries: QueryClient, dataset: number) {
  await queries.invalidateQueries({ queryKey: ['draft', dataset] })
  await versionsChanged(queries, dataset)
}
