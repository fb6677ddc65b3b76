import { useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, type Contents, type Me, type PageDrawing, type Refusal, type Share } from '../../api/client'
import { Dialog } from '../../ui/Dialog'
import { Trouble } from '../../ui/Words'
import { AccessForm, accessOf, Columns, Given, OPEN_TO_ALL, ReaderLook } from '../shared/ShareForm'
import { SharedNow } from '../shared/SharedNow'
import { GONE, WAS } from './markdown'

/** Shares a page with its charts, and says before what goes out. */
export function SharePage({
  me,
  page,
  contents,
  drawings,
  close,
}: {
  me: Me
  page: number
  contents: Contents
  drawings: Record<string, PageDrawing | null>
  close: () => void
}) {
  const queries = useQueryClient()
  const shown = contents.blocks.flatMap((b) => {
    const drawing = b.chart && drawings[b.id]
    return drawing ? [{ id: b.id, name: drawing.chart.name, drawing }] : []
  })
  const [columns, setColumns] = useState<Record<string, string[]>>(() =>
    Object.fromEntries(shown.map(({ id, drawing }) => [id, drawing.goes_out.filter((c) => !c.heads).map((c) => c.column)])),
  )
  const [access, setAccess] = useState(OPEN_TO_ALL)
  const [share, setShare] = useState<Share | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const wanted = { columns, ...accessOf(access) }
  const text = contents.blocks.map((b) => b.text ?? '').join('\n')
  const submit = async (e: FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      setShare(await api.sharePage(page, wanted))
      await queries.invalidateQueries({ queryKey: ['shares'] })
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  if (share)
    return (
      <Dialog title="The page is shared" onClose={close}>
        <SharedNow share={share} />
      </Dialog>
    )
  return (
    <Dialog title="Share this page" onClose={close}>
      <form onSubmit={submit} className="flex gap-7 max-[860px]:flex-col">
        <div className="flex min-w-0 flex-1 flex-col gap-4">
          {text.includes(`"${GONE}"`) ? (
            <Trouble message="the page says what its charts no longer say" advice="look at the words that are marked before readers do" />
          ) : (
            text.includes(`"${WAS}`) && (
              <Trouble message="words from readings changed with their charts" advice="look whether the sentences around them still hold" />
            )
          )}
          <AccessForm me={me} access={access} change={setAccess} live="Follows what is written, its charts, and their data" />
          <Given access={access} change={setAccess}>
            {shown.map(({ id, name, drawing }) => (
              <Columns
                key={id}
                name={name}
                columns={drawing.goes_out}
                chosen={columns[id] ?? []}
                choose={(chosen) => setColumns((all) => ({ ...all, [id]: chosen }))}
                rows={drawing.figure.rows}
              />
            ))}
            {shown.length === 0 && <p>Its texts; it shows no chart.</p>}
          </Given>
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          <div className="sticky -bottom-6 -mb-6 flex justify-end gap-2 border-t border-line bg-strip py-3">
            <button type="button" className="button-plain" onClick={close}>
              Do not share
            </button>
            <button className="button-bright" disabled={busy}>
              Share
            </button>
          </div>
        </div>
        <ReaderLook action={`/api/pages/${page}/look`} wanted={{ ...wanted, password: '' }} />
      </form>
    </Dialog>
  )
}
