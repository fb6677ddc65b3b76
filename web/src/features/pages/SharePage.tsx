import { useState } from 'react'
import { api, type Contents, type Me, type PageDrawing } from '../../api/client'
import { Dialog } from '../../ui/Dialog'
import { Trouble } from '../../ui/Words'
import { AccessForm, accessOf, Columns, Given, OPEN_TO_ALL, ReaderLook, ShareFoot, useSharing } from '../shared/ShareForm'
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
  const shown = contents.blocks.flatMap((b) => {
    const drawing = b.chart && drawings[b.id]
    return drawing ? [{ id: b.id, name: drawing.chart.name, drawing }] : []
  })
  const [columns, setColumns] = useState<Record<string, string[]>>(() =>
    Object.fromEntries(shown.map(({ id, drawing }) => [id, drawing.goes_out.filter((c) => !c.heads).map((c) => c.column)])),
  )
  const [access, setAccess] = useState(OPEN_TO_ALL)
  const wanted = { columns, ...accessOf(access) }
  const text = contents.blocks.map((b) => b.text ?? '').join('\n')
  const { share, trouble, busy, submit } = useSharing(() => api.sharePage(page, wanted))
  if (share)
    return (
      <Dialog title="The page is shared" onClose={close}>
        <SharedNow share={share} all={shown[0] && `/dataset/${shown[0].drawing.chart.dataset_id}/shared`} />
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
          <ShareFoot trouble={trouble} busy={busy} close={close} />
        </div>
        <ReaderLook action={`/api/pages/${page}/look`} wanted={{ ...wanted, password: '' }} />
      </form>
    </Dialog>
  )
}
