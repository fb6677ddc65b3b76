import { useQueryClient } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { useCallback, useRef, useState, type ReactNode } from 'react'
import { api, Refusal, type Dataset, type Preview, type Renewal, type Version } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'
import { Dialog } from '../../ui/Dialog'
import { TABLE_FILES, UploadProgress, useUpload } from '../../ui/Upload'
import { Trouble } from '../../ui/Words'
import { MovedCharts, type AskMoved } from '../again/MovedCharts'
import { AddRows } from './AddRows'
import { MOST_BY_HAND, PasteBeside } from './ByHand'
import { OriginDialog } from './Origin'
import { renewed } from './renewed'
import { over } from '../../ui/over'

/** Brings another file for a dataset: what it would change is shown before it is kept. */
export function BringFile({ dataset, type, changes }: { dataset: Dataset; type?: () => void; changes?: () => void }) {
  const picker = useRef<HTMLInputElement>(null)
  const { sending, send, trouble, setTrouble } = useUpload()
  const [pasting, setPasting] = useState(false)
  const [asking, setAsking] = useState(false)
  const [adding, setAdding] = useState(false) // the next file is of rows to be added
  const [more, setMore] = useState<Preview | null>(null)
  const [found, setFound] = useState<{ key: string; renewal: Renewal } | null>(null)
  const bring = async (file: File) => {
    const preview = await send(file)
    if (!preview) return
    if (adding) return setMore(preview)
    try {
      setFound({ key: preview.key, renewal: await api.compareFile(dataset.id, preview.key) })
    } catch (fault) {
      setTrouble(fault as Refusal)
      void api.discard(preview.key)
    }
  }
  const pick = (rows: boolean) => {
    setAdding(rows)
    picker.current?.click()
  }
  return (
    <>
      <Ways>
        <Way act={() => pick(false)}>New file in its place …</Way>
        <Way act={() => pick(true)}>More rows, below those there are …</Way>
        {dataset.rows <= MOST_BY_HAND && <Way act={() => setPasting(true)}>More columns, pasted beside it …</Way>}
        <Way act={() => setAsking(true)}>A file or rows that come again …</Way>
        {type && <Way act={type}>Type into its cells</Way>}
        {changes && <Way act={changes}>What version {dataset.version} changed of charts …</Way>}
      </Ways>
      {asking && <OriginDialog dataset={dataset} close={() => setAsking(false)} />}
      {more && <AddRows key={more.key} dataset={dataset} file={more} close={() => setMore(null)} />}
      {pasting && <PasteBeside dataset={dataset} close={() => setPasting(false)} />}
      <input
        ref={picker}
        type="file"
        className="hidden"
        aria-label="A new file for this dataset"
        accept={TABLE_FILES}
        onChange={(e) => {
          if (e.target.files?.[0]) void bring(e.target.files[0])
          e.target.value = ''
        }}
      />
      {(sending || (trouble && !found)) && (
        <Dialog
          title={adding ? `More rows for ${dataset.name}` : `A new file for ${dataset.name}`}
          onClose={() => (sending ? sending.abort() : setTrouble(null))}
        >
          {sending && <UploadProgress sending={sending} />}
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        </Dialog>
      )}
      {found && <Differences dataset={dataset} found={found} close={() => setFound(null)} />}
    </>
  )
}

/** The ways to the next version of a dataset. */
function Ways({ children }: { children: ReactNode }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="button-plain shrink-0 text-[13px]" title="The next version of this dataset">
        Next version …
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-20 min-w-52 rounded-lg border border-line bg-strip p-1.5 text-sm text-ink shadow-xl"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

function Way({ act, children }: { act: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      onSelect={act}
      className="cursor-pointer rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
    >
      {children}
    </DropdownMenu.Item>
  )
}

/** What another file would change. */
function Differences({
  dataset,
  found: { key, renewal: r },
  close,
}: {
  dataset: Dataset
  found: { key: string; renewal: Renewal }
  close: () => void
}) {
  const queries = useQueryClient()
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const [dropped, setDropped] = useState<Version | null>(null)
  const ask: AskMoved = useCallback((from, signal) => api.movedByFile(dataset.id, key, from, signal), [dataset.id, key])
  const keep = async () => {
    setBusy(true)
    try {
      const kept = await api.keepFile(dataset.id, key)
      await renewed(queries, dataset.id)
      if (kept.dropped) setDropped(kept)
      else close()
    } catch (fault) {
      setTrouble(fault as Refusal)
      setBusy(false)
    }
  }
  if (dropped)
    return (
      <Dialog title="Kept without the preparation" onClose={close}>
        <p role="status" className="mb-4">
          {r.file_name} is version {dropped.number}, as it came: {counted(dropped.rows, 'row')}. The preparation was not made again (
          {dropped.dropped}); it waits as your draft, over the rows.
        </p>
        <div className="flex justify-end">
          <button type="button" className="button-bright" onClick={close}>
            Mend it
          </button>
        </div>
      </Dialog>
    )
  const leave = () => {
    void api.discard(key)
    close()
  }
  const { difference: d } = r
  const notes = r.report.notes ?? []
  const clauses = r.clauses ?? []
  return (
    <Dialog title={`A new file for ${dataset.name}`} onClose={leave}>
      <div className="flex flex-col gap-4">
        <p>
          <strong className="font-semibold">{r.file_name}</strong> in the place of {r.before || 'what was there'}. Charts stay on their
          version until you move them.
        </p>
        {r.anew && (
          <p className="rounded-md bg-copper-wash px-3 py-2 text-[13px]">
            It could not be read as the last file was ({r.anew}), so it was read from the beginning.
          </p>
        )}
        <dl className="grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1.5 text-[14px] tabular-nums">
          <Line name="Rows">
            {counted(d.rows_after, 'row')}, {change(d.rows_after - d.rows_before)}: {formatNumber(d.rows_same, 0)} as before,{' '}
            {formatNumber(d.rows_after - d.rows_same, 0)} new or changed, {formatNumber(d.rows_before - d.rows_same, 0)} no longer there
          </Line>
          <Line name="New columns">{named(d.new)}</Line>
          <Line name="Columns gone">{named(d.gone)}</Line>
          <Line name="Of another kind">
            {(d.changed ?? []).length === 0
              ? 'none'
              : (d.changed ?? []).map((c) => `${c.column} (was ${c.before}, is ${c.after})`).join(', ')}
          </Line>
          {clauses.length > 0 && (
            <Line name="Preparation">
              {r.mistake ? (
                <span className="text-copper">
                  does not suit the new file: {r.mistake.message} in “{clauses[r.mistake.clause]?.text}”. The file is kept without it, as it
                  comes ({counted(r.rows, 'row')}), and the preparation waits as your draft.
                </span>
              ) : (
                `${counted(clauses.length, 'clause')} made again: ${counted(r.rows, 'row')}`
              )}
            </Line>
          )}
          {(r.misfits ?? []).length > 0 && (
            <Line name="Charts that do not fit">{(r.misfits ?? []).map((m) => `${m.name} (${m.why})`).join('; ')}</Line>
          )}
        </dl>
        <MovedCharts ask={ask} dataset={dataset.id} />
        {notes.length > 0 && (
          <details className="rounded-md bg-copper-wash px-3 py-2 text-[13px]">
            <summary className="cursor-pointer">{counted(r.report.note_count, 'place')} read otherwise than it stands</summary>
            <ul className="mt-1 max-h-36 overflow-auto">
              {notes.map((note, i) => (
                <li key={i}>
                  {note.line ? `Line ${note.line}` : 'All lines'}
                  {note.column && `, ${note.column}`}: {note.message}
                </li>
              ))}
            </ul>
          </details>
        )}
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        <div className="flex justify-end gap-3">
          <button type="button" className="button-plain" onClick={leave}>
            Leave it
          </button>
          <button type="button" className="button-bright" disabled={busy} onClick={keep}>
            {clauses.length > 0 && !r.mistake ? `Keep as versions ${r.version} and ${r.version + 1}` : `Keep as version ${r.version}`}
          </button>
        </div>
      </div>
    </Dialog>
  )
}

function Line({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-muted">{name}</dt>
      <dd>{children}</dd>
    </>
  )
}

const named = (list: string[] | null) => ((list ?? []).length === 0 ? 'none' : list!.join(', '))
const change = (n: number) => (n === 0 ? 'as many as before' : `${formatNumber(Math.abs(n), 0)} ${n > 0 ? 'more' : 'fewer'}`)
