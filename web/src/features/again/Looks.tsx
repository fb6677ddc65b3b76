import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, Refusal, type Document, type KeptLook } from '../../api/client'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { Dialog } from '../../ui/Dialog'
import { useMakes } from '../../ui/may'
import { Trouble, Waiting } from '../../ui/Words'
import { Naming } from './Patterns'

/** Keeps what a chart says of its looks and its scales under a name. */
export function KeepLook({ document, close }: { document: Document; close: () => void }) {
  const queries = useQueryClient()
  return (
    <Naming
      title="Keep its looks"
      says="What the chart says of its looks (colours, grid, letters, keys, paper) and of its scales is kept under a name, to be laid on others. Titles stay with the chart."
      first=""
      keep={async (name) => {
        await api.addLook(name, document)
        await queries.invalidateQueries({ queryKey: ['looks'] })
      }}
      close={close}
    />
  )
}

/** Lays kept looks on a chart: in the place of its own, with the scales where that is wanted. */
export function LayLook({ bench, close }: { bench: Bench; close: () => void }) {
  const queries = useQueryClient()
  const makes = useMakes()
  const { refusal } = useBench(bench, 'refusal')
  const looks = useQuery({ queryKey: ['looks'], queryFn: api.looks })
  const style = useQuery({ queryKey: ['style'], queryFn: api.style, staleTime: 60_000 })
  const [scales, setScales] = useState(true)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const lay = async (look: KeptLook) => {
    setTrouble(null)
    const say = [...look.looks, ...(scales ? look.scales : [])]
    if (await bench.amend({ drop: style.data?.slots ?? [], say })) return close()
    setTrouble(bench.get().refusal ?? refusal)
  }
  const forget = async (look: KeptLook) => {
    await api.dropLook(look.id)
    await queries.invalidateQueries({ queryKey: ['looks'] })
  }
  return (
    <Dialog title="Lay kept looks on it" onClose={close}>
      {(looks.isPending || style.isPending) && <Waiting what="Looking for looks" />}
      {looks.error && <Trouble message={looks.error.message} />}
      {looks.data?.length === 0 && <p className="text-muted">The space keeps no looks yet. Dress a chart, and keep its looks.</p>}
      {(looks.data?.length ?? 0) > 0 && (
        <label className="mb-3 flex items-center gap-2">
          <input type="checkbox" checked={scales} onChange={(e) => setScales(e.target.checked)} />
          its scales as well: logarithms, limits, how numbers are written
        </label>
      )}
      <ul className="flex flex-col divide-y divide-line">
        {looks.data?.map((look) => (
          <li key={look.id} className="flex items-baseline gap-3 py-2">
            <button type="button" className="link shrink-0 font-semibold" disabled={!style.data} onClick={() => void lay(look)}>
              {look.name}
            </button>
            <span className="min-w-0 flex-1 text-[13px] text-muted wrap-anywhere">
              {[...look.looks, ...(scales ? look.scales : [])].join(' · ') || 'nothing but scales'}
            </span>
            <span className="shrink-0 text-[13px] text-muted">{look.by}</span>
            {makes && (
              <button
                type="button"
                className="link shrink-0 text-[13px]"
                aria-label={`Forget ${look.name}`}
                onClick={() => void forget(look)}
              >
                forget
              </button>
            )}
          </li>
        ))}
      </ul>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
    </Dialog>
  )
}
