import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Dataset, type Refusal, type Schemas } from '../../api/client'
import { counted } from '../../scale/format'
import { Dialog } from '../../ui/Dialog'
import { Trouble } from '../../ui/Words'
import { renewed } from './renewed'

/** How many rows a table has at most that is changed by hand. */
export const MOST_BY_HAND = 5000

/** What was typed into cells and is not kept yet, by row (from 1) and column. */
export type Typed = ReadonlyMap<string, Schemas['CellEdit']>

export const cellKey = (row: number, column: string) => `${row}\n${column}`

/** What was typed into cells: how much it is, and the ways to keep or leave it. */
export function TypedCells({ dataset, next, typed, leave }: { dataset: Dataset; next: number; typed: Typed; leave: () => void }) {
  const queries = useQueryClient()
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const keep = async () => {
    try {
      await api.edit(dataset.id, { cells: [...typed.values()] })
      leave()
      await renewed(queries, dataset.id)
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  return (
    <div className="flex shrink-0 items-center gap-3 rounded-xl border border-line bg-strip px-4 py-2 text-[13px]">
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <p role="status" className="min-w-0 flex-1">
        {typed.size === 0 ? 'Type into the cells; an empty one is missing.' : `${counted(typed.size, 'cell')} changed, not kept yet.`}
      </p>
      <button type="button" className="button-plain" onClick={leave}>
        {typed.size === 0 ? 'Done' : 'Leave as it was'}
      </button>
      <button type="button" className="button-bright" disabled={typed.size === 0} onClick={() => void keep()}>
        Keep as version {next}
      </button>
    </div>
  )
}

/** Further columns, pasted beside the table: as many rows, in the same order. */
export function PasteBeside({ dataset, close }: { dataset: Dataset; close: () => void }) {
  const queries = useQueryClient()
  const [beside, setBeside] = useState('')
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const keep = async () => {
    setBusy(true)
    try {
      await api.edit(dataset.id, { beside })
      await renewed(queries, dataset.id)
      close()
    } catch (fault) {
      setTrouble(fault as Refusal)
      setBusy(false)
    }
  }
  return (
    <Dialog title={`More columns for ${dataset.name}`} onClose={close}>
      <label className="flex flex-col gap-2">
        Columns with their names above, one line a row, in the order of the table’s rows
        <textarea
          className="field h-48 font-mono text-[13px]"
          placeholder={'rain_mm\tkeeper\n12.5\tAnwen\n8\tBram'}
          value={beside}
          onChange={(e) => setBeside(e.target.value)}
        />
      </label>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <div className="mt-4 flex justify-end gap-3">
        <button type="button" className="button-plain" onClick={close}>
          Leave it
        </button>
        <button type="button" className="button-bright" disabled={busy || beside.trim() === ''} onClick={() => void keep()}>
          Put beside the table
        </button>
      </div>
    </Dialog>
  )
}
