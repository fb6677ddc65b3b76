import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, Refusal, type Dataset, type ListedSource, type Origin, type OriginPlaces } from '../../api/client'
import { moment } from '../../ui/moment'
import { Dialog } from '../../ui/Dialog'
import { Trouble, Waiting } from '../../ui/Words'
import { ASKED } from './asked'
import { rowsAt } from './rowsPlace'
import { TablePlace } from './TablePlace'

const OUTCOMES: Record<string, string> = { new: 'a new version', same: 'nothing new', stopped: 'stopped', failed: 'failed' }

/** Where a dataset's file comes from again: from which folder or address, how often, and what came of asking. */
export function OriginDialog({ dataset, close }: { dataset: Dataset; close: () => void }) {
  const places = useQuery({ queryKey: ['origins'], queryFn: api.originPlaces })
  const sources = useQuery({ queryKey: ['sources'], queryFn: api.sources, staleTime: 60_000 })
  const origin = useQuery({ queryKey: ['origin', dataset.id], queryFn: () => api.origin(dataset.id), retry: false })
  const none = origin.error instanceof Refusal && origin.error.status === 404
  return (
    <Dialog title={`Where ${dataset.name} comes from again`} onClose={close}>
      {places.error && <Trouble message={places.error.message} />}
      {origin.error && !none && <Trouble message={origin.error.message} />}
      {sources.error && <Trouble message={sources.error.message} />}
      {(places.isPending || sources.isPending || origin.isPending) && !none && <Waiting what="Looking" />}
      {places.data && !sources.isPending && (origin.data || none) && (
        <Form
          key={origin.dataUpdatedAt}
          dataset={dataset}
          places={places.data}
          sources={sources.data ?? []}
          origin={none ? null : origin.data!}
        />
      )}
    </Dialog>
  )
}

function Form({
  dataset,
  places,
  sources,
  origin,
}: {
  dataset: Dataset
  places: OriginPlaces
  sources: ListedSource[]
  origin: Origin | null
}) {
  const queries = useQueryClient()
  const files = Object.entries(places.folders).flatMap(([folder, list]) => (list ?? []).map((file) => `folder:${folder}/${file}`))
  const [place, setPlace] = useState(origin?.place ?? files[0] ?? '')
  const [every, setEvery] = useState<Origin['every']>(origin?.every ?? 'never')
  const [secret, setSecret] = useState('')
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState('')
  const attempt = async (what: string, act: () => Promise<unknown>) => {
    setTrouble(null)
    setBusy(what)
    try {
      await act()
      await Promise.all([['origin', dataset.id], ['datasets']].map((queryKey) => queries.invalidateQueries({ queryKey })))
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
    setBusy('')
  }
  if (files.length === 0 && places.addresses.length === 0 && sources.length === 0 && !origin)
    return (
      <p className="text-muted">
        Whoever runs this server has named no folders, addresses or databases that rows may come from (LARK_FOLDERS, LARK_ORIGINS,
        LARK_SOURCES).
      </p>
    )
  const rows = rowsAt(place)
  const folder = place.startsWith('folder:')
  const address = !folder && !rows
  const kept = origin !== null && origin.place === place && origin.every === every && !secret
  return (
    <div className="flex flex-col gap-4">
      <p className="text-[14px]">
        What comes is read as it was the last time, and prepared by the same clauses, as the next version. Columns that come, go or change
        kind, and half the rows gone, stop it: then the version that is there stays, until somebody says so.
      </p>
      <div className="grid grid-cols-[max-content_1fr] items-center gap-x-5 gap-y-2.5">
        {files.length > 0 && (
          <>
            <label htmlFor="origin-file">A file</label>
            <select id="origin-file" className="field max-w-md" value={folder ? place : ''} onChange={(e) => setPlace(e.target.value)}>
              <option value="">{folder ? 'none' : 'choose one…'}</option>
              {folder && !files.includes(place) && <option value={place}>{place.slice('folder:'.length)} (not there now)</option>}
              {files.map((file) => (
                <option key={file} value={file}>
                  {file.slice('folder:'.length)}
                </option>
              ))}
            </select>
          </>
        )}
        {places.addresses.length > 0 && (
          <>
            <label htmlFor="origin-address">An address</label>
            <span>
              <input
                id="origin-address"
                className="field max-w-md"
                type="url"
                value={address ? place : ''}
                placeholder={`${places.addresses[0].replace(/\/$/, '')}/…`}
                onChange={(e) => setPlace(e.target.value)}
              />
              <span className="block text-[13px] text-muted">below {places.addresses.join(', ')}</span>
            </span>
            {address && places.secrets && (
              <>
                <label htmlFor="origin-secret">It is told</label>
                <input
                  id="origin-secret"
                  className="field max-w-md"
                  type="password"
                  autoComplete="off"
                  value={secret}
                  placeholder={
                    origin?.has_secret && origin.place === place ? 'kept; write another to change it' : 'Bearer …, where it asks for one'
                  }
                  onChange={(e) => setSecret(e.target.value)}
                />
              </>
            )}
          </>
        )}
        {(sources.length > 0 || rows) && <TablePlace sources={sources} rows={rows} set={setPlace} />}
        <label htmlFor="origin-every">It is asked</label>
        <select id="origin-every" className="field max-w-56" value={every} onChange={(e) => setEvery(e.target.value as Origin['every'])}>
          {ASKED.map((one) => (
            <option key={one.every} value={one.every}>
              {one.says}
            </option>
          ))}
        </select>
      </div>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <div className="flex flex-wrap items-center gap-4">
        <button
          type="button"
          className="button-bright"
          disabled={!place || kept || busy !== ''}
          onClick={() => void attempt('keeping', () => api.setOrigin(dataset.id, { place, every, secret: secret || undefined }))}
        >
          Keep
        </button>
        {origin && kept && (
          <button
            type="button"
            className="button-plain"
            disabled={busy !== ''}
            onClick={() => void attempt('asking', () => api.askOrigin(dataset.id))}
          >
            Ask now
          </button>
        )}
        {origin && (
          <button
            type="button"
            className="link"
            disabled={busy !== ''}
            onClick={() => void attempt('forgetting', () => api.dropOrigin(dataset.id))}
          >
            forget it
          </button>
        )}
        <span role="status" className="text-[13px] text-muted">
          {busy ? `${busy} …` : origin?.next_at && `asked next: ${moment(origin.next_at)}`}
        </span>
      </div>
      {origin?.stopped && (
        <div role="alert" className="rounded-md border-l-3 border-copper bg-copper-wash px-3 py-2">
          <strong className="font-semibold">It stopped:</strong> {origin.stopped}.{' '}
          <button
            type="button"
            className="link"
            disabled={busy !== ''}
            onClick={() => void attempt('taking it', () => api.askOrigin(dataset.id, true))}
          >
            take it nevertheless
          </button>
        </div>
      )}
      {origin && origin.runs.length > 0 && (
        <section aria-label="What came of asking" tabIndex={0} className="max-h-64 overflow-auto">
          <table className="w-full text-left text-[13px]">
            <tbody>
              {origin.runs.map((run, i) => (
                <tr key={i} className="border-t border-line align-top">
                  <td className="py-1.5 pr-4 whitespace-nowrap text-muted">{moment(run.at)}</td>
                  <td
                    className={`py-1.5 pr-4 whitespace-nowrap ${run.outcome === 'stopped' || run.outcome === 'failed' ? 'text-copper' : ''}`}
                  >
                    {OUTCOMES[run.outcome]}
                  </td>
                  <td className="py-1.5 pr-4 wrap-anywhere">{run.words}</td>
                  <td className="py-1.5 whitespace-nowrap text-muted">{run.by || 'by the clock'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  )
}
