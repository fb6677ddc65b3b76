import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { api, Refusal, type Dataset, type Preview, type SourceTable } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { Dialog } from '../../ui/Dialog'
import { useDone } from '../../ui/useDone'
import { Trouble } from '../../ui/Words'
import { aboutRows } from '../data/aboutRows'
import { ASKED, type Asked } from '../data/asked'
import { placeOf, typedNumber, USUAL_ROWS, USUAL_SEED, wrongRows } from '../data/rowsPlace'
import { PreviewDialog } from './PreviewDialog'

/** Takes rows of a table that stays elsewhere as a dataset: how many, by which seed, and whether they come again. */
export function TakeRows({
  source,
  table,
  close,
  kept,
}: {
  source: string
  table: SourceTable
  close: () => void
  kept: (dataset: Dataset) => void
}) {
  const queries = useQueryClient()
  const [rows, setRows] = useState(formatNumber(table.rows < 0 ? USUAL_ROWS : Math.min(USUAL_ROWS, Math.max(1, table.rows)), 0))
  const [seed, setSeed] = useState(String(USUAL_SEED))
  const [every, setEvery] = useState<Asked>('never')
  const [trouble, setTrouble] = useState<{ message: string; advice?: string } | null>(null)
  const [preview, setPreview] = useState<Preview | null>(null)
  const [stop, setStop] = useState<AbortController | null>(null)
  const [half, setHalf] = useState<{ dataset: Dataset; fault: Refusal } | null>(null)
  const done = useDone(stop !== null)
  const running = useRef<AbortController | null>(null)
  useEffect(() => () => running.current?.abort(), [])
  const wrong = wrongRows(rows, seed)
  const wanted = { source, table: table.name, rows: typedNumber(rows), seed: typedNumber(seed) }
  const take = async () => {
    if (wrong) return setTrouble({ message: wrong })
    setTrouble(null)
    const asked = (running.current = new AbortController())
    setStop(asked)
    try {
      setPreview(await api.drawRows(wanted, asked.signal))
    } catch (fault) {
      setTrouble(asked.signal.aborted ? { message: 'It was stopped; nothing was taken' } : (fault as Refusal))
    }
    setStop(null)
  }
  const decided = async (dataset?: Dataset) => {
    setPreview(null)
    if (!dataset) return
    // Asked for again by a press at the least: where the rows are from is known.
    try {
      await api.setOrigin(dataset.id, { place: placeOf(wanted), every })
    } catch (fault) {
      return setHalf({ dataset, fault: fault as Refusal })
    }
    await queries.invalidateQueries({ queryKey: ['origin', dataset.id] })
    kept(dataset)
  }
  if (preview) return <PreviewDialog preview={preview} decided={(dataset) => void decided(dataset)} />
  if (half)
    return (
      <Dialog title="Kept, and not taken anew" onClose={() => kept(half.dataset)}>
        <div className="flex flex-col gap-4">
          <p>The rows are kept as {half.dataset.name}. That they are taken anew could not be kept:</p>
          <Trouble message={half.fault.message} advice={half.fault.advice} />
          <button type="button" className="button-bright self-end" onClick={() => kept(half.dataset)}>
            Go on
          </button>
        </div>
      </Dialog>
    )
  const all = !wrong && table.rows >= 0 && wanted.rows >= table.rows
  return (
    <Dialog title={`Rows of ${table.name}`} onClose={close}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(e) => {
          e.preventDefault()
          void take()
        }}
      >
        <p className="text-[14px]">
          The table stays in the database <strong className="font-semibold">{source}</strong>, {table.rows < 0 ? 'and' : 'where it has'}{' '}
          {aboutRows(table)}.{' '}
          {all
            ? 'All of them are taken, as they stand now.'
            : 'The rows that are taken are drawn at random: what is said of them is said of a sample. The same seed draws the same rows while the table stays as it is.'}
        </p>
        <div className="grid grid-cols-[max-content_1fr] items-center gap-x-5 gap-y-2.5">
          <label htmlFor="take-rows">How many rows</label>
          <input id="take-rows" className="field max-w-44" inputMode="numeric" value={rows} onChange={(e) => setRows(e.target.value)} />
          <label htmlFor="take-seed">Seed</label>
          <input id="take-seed" className="field max-w-44" inputMode="numeric" value={seed} onChange={(e) => setSeed(e.target.value)} />
          <label htmlFor="take-again">Taken anew</label>
          <select id="take-again" className="field max-w-56" value={every} onChange={(e) => setEvery(e.target.value as Asked)}>
            {ASKED.map((one) => (
              <option key={one.every} value={one.every}>
                {one.says}
              </option>
            ))}
          </select>
        </div>
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        <div className="flex items-center gap-4">
          {stop ? (
            <button type="button" className="button-plain" onClick={() => stop.abort()}>
              Stop
            </button>
          ) : (
            <button type="submit" className="button-bright">
              Take them
            </button>
          )}
          <span role="status" className="text-[13px] text-muted tabular-nums">
            {stop && (done ? `${done} …` : 'Asking the database …')}
          </span>
        </div>
      </form>
    </Dialog>
  )
}
