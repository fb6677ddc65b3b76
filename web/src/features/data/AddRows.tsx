import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, Refusal, type Dataset, type Preview, type Renewed } from '../../api/client'
import { counted } from '../../scale/format'
import { Dialog } from '../../ui/Dialog'
import { Trouble, Waiting } from '../../ui/Words'
import { renewed } from './renewed'

/** How many columns can tell rows apart together. */
const MOST_KEYS = 12
/** How many columns are told by name. */
const MOST_TOLD = 8

/** Names as they are told: the first few, and how many more. */
function listed(names: string[]): string {
  const few = names.slice(0, MOST_TOLD).join(', ')
  return names.length > MOST_TOLD ? `${few} and ${names.length - MOST_TOLD} more` : few
}

/** Adds the rows of a file below those of a dataset: what tells rows apart is said, and what becomes of them is told before. */
export function AddRows({ dataset, file, close }: { dataset: Dataset; file: Preview; close: () => void }) {
  const queries = useQueryClient()
  const [keys, setKeys] = useState<string[]>([])
  const [told, setTold] = useState<Renewed | null>(null)
  const [proposed, setProposed] = useState<string[] | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const names = (file.columns ?? []).map((c) => c.name)
  useEffect(() => {
    let left = false
    const ask = async () => {
      try {
        const found = await api.addRows(dataset.id, file.key, keys, false)
        if (left) return
        setTold(found)
        setTrouble(null)
        // What tells the rows of the table apart is proposed once, where the file has it.
        if (proposed === null) {
          const apart = found.apart ?? []
          setProposed(apart)
          if (apart.length > 0 && apart.every((name) => names.includes(name))) setKeys(apart)
        }
      } catch (fault) {
        if (!left) setTrouble(fault as Refusal)
      }
    }
    void ask()
    return () => {
      left = true
    }
  }, [dataset.id, file.key, keys]) // eslint-disable-line react-hooks/exhaustive-deps -- the rest stays as the file is
  const twice = told ? Math.max(0, file.rows - told.added - told.replaced) : 0
  const leave = () => {
    void api.discard(file.key).catch(() => {})
    close()
  }
  const keep = async () => {
    setBusy(true)
    try {
      await api.addRows(dataset.id, file.key, keys, true)
      await renewed(queries, dataset.id)
      close()
    } catch (fault) {
      setTrouble(fault as Refusal)
      setBusy(false)
    }
  }
  return (
    <Dialog title={`Rows of ${file.name}, below those of ${dataset.name}`} onClose={leave}>
      <div className="flex flex-col gap-4">
        <fieldset>
          <legend className="mb-1.5 text-[14px]">
            What tells rows apart: a row that is there already takes the place of the earlier one. Nothing chosen, all rows are added.
          </legend>
          <div className="flex max-h-40 flex-wrap gap-1.5 overflow-auto p-0.5">
            {names.map((name) => {
              const on = keys.includes(name)
              return (
                <button
                  key={name}
                  type="button"
                  aria-pressed={on}
                  disabled={!on && keys.length >= MOST_KEYS}
                  className={`max-w-full truncate rounded-full border px-3 py-1 text-[13px] ${on ? 'border-copper bg-copper-wash text-copper' : 'border-line hover:border-copper'}`}
                  onClick={() => setKeys(on ? keys.filter((k) => k !== name) : [...keys, name])}
                >
                  {name}
                </button>
              )
            })}
          </div>
        </fieldset>
        {trouble ? (
          <Trouble message={trouble.message} advice={trouble.advice} />
        ) : told ? (
          <p role="status" className="text-[14px]">
            Of {counted(file.rows, 'row')}, <strong className="font-semibold">{counted(told.added, 'row')}</strong>{' '}
            {told.added === 1 ? 'is' : 'are'} new
            {told.replaced > 0 && (
              <>
                {' and '}
                <strong className="font-semibold">{counted(told.replaced, 'row')}</strong> of the table {told.replaced === 1 ? 'is' : 'are'}{' '}
                replaced
              </>
            )}
            {twice > 0 && <>, {counted(twice, 'row')} stood twice in the file (the later one counts)</>}: {counted(told.rows, 'row')} in
            all.
          </p>
        ) : (
          <Waiting what="Looking" />
        )}
        {!trouble && told && (told.lacks ?? []).length > 0 && (
          <p className="border-l-3 border-copper py-0.5 pl-3 text-[13px] wrap-anywhere">
            The file does not have {listed(told.lacks!)}: missing in the rows that are added.
          </p>
        )}
        <p className="text-[13px] text-muted">
          The preparation is made again. Of versions that rows were added by, a day keeps the last, and those that charts stand on.
        </p>
        <div className="flex justify-end gap-3">
          <button type="button" className="button-plain" onClick={leave}>
            Discard
          </button>
          <button type="button" className="button-bright" disabled={busy || !told || trouble !== null} onClick={() => void keep()}>
            Add them
          </button>
        </div>
      </div>
    </Dialog>
  )
}
