import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Document } from '../api/client'
import { useBench } from '../state/useBench'
import type { Bench } from '../state/bench'

/** Under words of looks: how the space's charts begin, to be taken here, made of what this chart says, or given up. */
export function SpaceStyle({ slot, bench, close }: { slot: string; bench: Bench; close: () => void }) {
  const { document, drawing } = useBench(bench, 'document', 'drawing')
  const client = useQueryClient()
  const style = useQuery({ queryKey: ['style'], queryFn: api.style, staleTime: 60_000 })
  const set = useMutation({
    mutationFn: (of: Document | null) => api.setStyle(of),
    onSuccess: (is) => {
      client.setQueryData(['style'], is)
      void client.invalidateQueries({ queryKey: ['first-look'], refetchType: 'none' }) // of the next chart
    },
  })
  const slots = style.data?.slots ?? []
  if (!style.data || !slots.includes(slot)) return null
  const [says, hard] = [style.data.says ?? [], style.data.hard ?? []]
  const looks = (drawing?.typed ?? '').split('\n').filter((line) => slots.some((name) => line.startsWith(`${name} `)))
  const alike = says.every((line) => looks.includes(line)) && looks.every((line) => says.includes(line))
  return (
    <section aria-label="Looks of the space" className="border-t border-line px-4 py-2.5 text-[13px]">
      <p className="text-muted wrap-anywhere">
        {says.length > 0
          ? `New charts of the space begin with: ${says.join(' · ')}`
          : 'New charts of the space begin with the usual looks.'}
      </p>
      {hard.length > 0 && <p className="text-copper">In its palette {hard.join('; ')}.</p>}
      {set.error && <p className="text-copper">{set.error.message}</p>}
      <p className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
        {!alike && (
          <>
            <button type="button" className="link" onClick={async () => (await bench.amend({ drop: slots, say: says })) && close()}>
              use the space’s looks here
            </button>
            <button type="button" className="link" disabled={set.isPending} onClick={() => set.mutate(document)}>
              begin new charts as this one looks
            </button>
          </>
        )}
        {says.length > 0 && (
          <button type="button" className="link" disabled={set.isPending} onClick={() => set.mutate(null)}>
            back to the usual looks for new charts
          </button>
        )}
      </p>
    </section>
  )
}
