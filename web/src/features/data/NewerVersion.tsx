import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback } from 'react'
import { api, type Dataset } from '../../api/client'
import { versionsChanged } from './renewed'

const WAITS = (dataset: number) => ['newer version', dataset]

/** What somebody changed of a dataset is read again: its meanings at once, a version that they kept where whoever is here asks for it. */
export function useDatasetChanged(dataset: Dataset): () => void {
  const queries = useQueryClient()
  const { id, version_id: version } = dataset
  return useCallback(() => {
    void api.dataset(id).then(
      (now) => {
        const newer = now.dataset.version_id !== version
        queries.setQueryData(WAITS(id), newer ? now.dataset : null)
        if (newer) return
        for (const key of ['meanings', 'dataset', 'prepared', 'datasets', 'summary']) void queries.invalidateQueries({ queryKey: [key] })
      },
      () => {}, // told again
    )
  }, [queries, id, version])
}

/** Says that somebody kept another version, and goes there by a press: a draft stays what it is. */
export function NewerVersion({ dataset, draft }: { dataset: Dataset; draft: boolean }) {
  const queries = useQueryClient()
  const newer = useQuery<Dataset | null>({ queryKey: WAITS(dataset.id), queryFn: () => null, enabled: false, initialData: null }).data
  if (!newer || newer.version_id === dataset.version_id) return null
  const look = async () => {
    queries.setQueryData(WAITS(dataset.id), null)
    await versionsChanged(queries, dataset.id)
  }
  return (
    <p role="status" className="flex shrink-0 items-center gap-4 border-b border-line bg-copper-wash px-5.5 py-1.5 text-[13px]">
      Version {newer.version} of {dataset.name} was kept meanwhile.
      {draft && ' Your draft stays: kept, it becomes a version beside it, without what that one changed.'}
      <button type="button" className="link" onClick={() => void look()}>
        Look at it
      </button>
    </p>
  )
}
