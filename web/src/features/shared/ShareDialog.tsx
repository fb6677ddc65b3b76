import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Dataset, type FoundCharts, type Me } from '../../api/client'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { Dialog } from '../../ui/Dialog'
import { AccessForm, accessOf, Columns, Given, OPEN_TO_ALL, ReaderLook, ShareFoot, useSharing } from './ShareForm'
import { SharedNow } from './SharedNow'

/** Shares the chart under an address of its own. */
export function ShareDialog({ bench, dataset, onClose }: { bench: Bench; dataset: Dataset; onClose: () => void }) {
  const queries = useQueryClient()
  const me = queries.getQueryData<Me>(['me'])!
  const { document, drawing, chart } = useBench(bench, 'document', 'drawing', 'chart')
  const said = (slot: string) => drawing!.spoken.find((part) => part.slot === slot)?.text ?? ''
  // A name that nobody said follows the sentence: the list of charts knows the newest one.
  const called = queries.getQueryData<FoundCharts>(['charts', 'name', chart?.id])?.charts[0]?.name ?? chart?.name
  const [title, setTitle] = useState(document.manner?.title || called || sentenceCase(`${said('y')} against ${said('x')}`))
  const [text, setText] = useState(
    drawing!.figure.note ||
      drawing!.reading.paragraphs
        .filter((p) => !p.shows?.rows?.length)
        .slice(0, 2)
        .map((p) => p.spans.map((s) => s.text).join(''))
        .join(' '),
  )
  const [access, setAccess] = useState(OPEN_TO_ALL)
  const could = drawing!.goes_out
  const [columns, setColumns] = useState(() => could.filter((c) => !c.heads).map((c) => c.column))
  const wanted = { chart_id: chart?.id, version_id: bench.version, document, title, text, columns, ...accessOf(access) }
  const { share, trouble, busy, submit } = useSharing(async () => {
    await bench.settled()
    return api.share({ ...wanted, chart_id: bench.get().chart?.id })
  })
  if (share)
    return (
      <Dialog title="The chart is shared" onClose={onClose}>
        <SharedNow share={share} all={`/dataset/${dataset.id}/shared`} />
      </Dialog>
    )
  return (
    <Dialog title="Share this chart" onClose={onClose}>
      <form onSubmit={submit} className="flex gap-7 max-[860px]:flex-col">
        <div className="flex min-w-0 flex-1 flex-col gap-4">
          <label className="flex flex-col gap-1.5">
            Title
            <input
              className="field font-serif text-lg"
              autoFocus
              value={title}
              maxLength={500}
              onChange={(e) => setTitle(e.target.value)}
            />
          </label>
          <label className="flex flex-col gap-1.5">
            Text under the title
            <textarea className="field font-serif" rows={4} value={text} maxLength={10000} onChange={(e) => setText(e.target.value)} />
          </label>
          <AccessForm
            me={me}
            access={access}
            change={setAccess}
            live={`Follows the chart, and ${dataset.name} when a new version is kept`}
          />
          <Given access={access} change={setAccess}>
            <Columns columns={could} chosen={columns} choose={setColumns} rows={drawing!.figure.rows} />
          </Given>
          <ShareFoot trouble={trouble} busy={busy} close={onClose} />
        </div>
        <ReaderLook action="/api/shares/look" wanted={{ ...wanted, title: title || 'Untitled', password: '' }} />
      </form>
    </Dialog>
  )
}

const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
