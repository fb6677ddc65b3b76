import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Dataset, type Refusal } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { placeOf, USUAL_SEED } from '../data/rowsPlace'
import { Trouble } from '../../ui/Words'

/** How many rows are taken where all of them cannot be asked. */
const MANY = 1_000_000

/** Where all rows cannot be asked: takes a million of them as a dataset, in one press. */
export function TakeMany({ stays }: { stays: NonNullable<Dataset['stays']> }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [running, setRunning] = useState<AbortController | null>(null)
  const [fault, setFault] = useState<Refusal | null>(null)
  const stop = useRef<AbortController | null>(null)
  useEffect(() => () => stop.current?.abort(), [])
  const take = async () => {
    const asked = (stop.current = new AbortController())
    setRunning(asked)
    setFault(null)
    try {
      const wanted = { source: stays.source, table: stays.table, rows: MANY, seed: USUAL_SEED }
      const preview = await api.drawRows(wanted, asked.signal)
      const dataset = await api.keep(preview.key, `${stays.table.replace(/^[^.]*\./, '')}, ${formatNumber(MANY, 0)} rows`)
      await api.setOrigin(dataset.id, { place: placeOf(wanted), every: 'never' })
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      void navigate(`/dataset/${dataset.id}/data`)
    } catch (wrong) {
      if (!asked.signal.aborted) setFault(wrong as Refusal)
    }
    setRunning(null)
  }
  return (
    <div className="mt-1 text-[13px]">
      {running ? (
        <p role="status" className="text-muted">
          Taking {formatNumber(MANY, 0)} rows…{' '}
          <button type="button" className="link" onClick={() => running.abort()}>
            stop
          </button>
        </p>
      ) : (
        <button type="button" className="link" onClick={() => void take()}>
          Take {formatNumber(MANY, 0)} rows drawn at random as a dataset
        </button>
      )}
      {fault && <Trouble message={fault.message} advice={fault.advice} />}
    </div>
  )
}
