import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Document } from '../api/client'
import { useBench } from '../state/useBench'
import type { Bench } from '../state/bench'

/** Under words of looks: how the space's charts begin, to be taken here, made of what this chart says, or given up. */
export function SpaceStyle({ slot, bench, close }: { slot: string; bench: Bench; close: () => void }) {
  const { document } = useBench(bench, 'document')
  const client = useQueryClient()
  const style = useQuery({ queryKey: ['style'], queryFn: api.style, staleTime: 60_000 })
  const set = useMutation({
    mutationFn: (of: Document) => api.setStyle(of),
    onSuccess: (is) => {
      client.setQueryData(['style'], is)
      void client.invalidateQueries({ queryKey: ['first-look'], refetchType: 'none' }) // of the next chart
    },
  })
  const slots = style.data?.slots ?? []
  if (!style.data || !slots.includes(slot)) return null
  const [says, hard] = [style.data.says ?? [], style.data.hard ?? []]
  const taken: Record<string, unknown> = { ...document }
  for (const name of slots) delete taken[name]
  const styled = { ...taken, ...style.data.style } as unknown as Document
  const alike = slots.every(
    (name) =>
      JSON.stringify((document as unknown as Record<string, unknown>)[name] ?? null) ===
      JSON.stringify((styled as unknown as Record<string, unknown>)[name] ?? null),
  )
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
            <button type="button" className="link" onClick={async () => (await bench.change(styled)) && close()}>
              use the space’s looks here
            </button>
            <button type="button" className="link" disabled={set.isPending} onClick={() => set.mutate(document)}>
              begin new charts as this one looks
            </button>
          </>
        )}
        {says.length > 0 && (
          <button type="button" className="link" disabled={set.isPending} onClick={() => set.mutate(taken as unknown as Document)}>
            back to the usual looks for new charts
          </button>
        )}
      </p>
    </section>
  )
}
