import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Contents } from '../../api/client'
import { moment } from '../../ui/moment'
import { Dialog } from '../../ui/Dialog'
import { Waiting } from '../../ui/Words'

/** How a page was: opened, and brought back. */
export function Earlier({ page, close, back }: { page: number; close: () => void; back: (contents: Contents) => void }) {
  const versions = useQuery({ queryKey: ['page versions', page], queryFn: () => api.pageVersions(page), gcTime: 0 })
  const [open, setOpen] = useState(0)
  const shown = useQuery({
    queryKey: ['page version', page, open],
    queryFn: () => api.pageVersion(page, open),
    enabled: open > 0,
  })
  return (
    <Dialog title="Earlier versions" onClose={close}>
      {versions.isPending && <Waiting what="Looking" />}
      {versions.data?.length === 0 && <p>There is none yet: one is kept when somebody writes who did not before, or after a while.</p>}
      <div className="grid grid-cols-[minmax(0,14rem)_minmax(0,1fr)] gap-5 max-[720px]:grid-cols-1">
        <ul className="flex max-h-96 flex-col gap-1 overflow-auto">
          {versions.data?.map((v) => (
            <li key={v.id}>
              <button
                type="button"
                aria-pressed={v.id === open}
                className={`w-full rounded-md px-3 py-1.5 text-left ${v.id === open ? 'bg-copper-wash text-copper' : 'hover:bg-copper-wash'}`}
                onClick={() => setOpen(v.id)}
              >
                {moment(v.at)}
                <span className="block truncate text-[13px] text-muted">
                  {v.by} · {v.title || 'untitled'}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {shown.data?.contents && (
          <div className="min-w-0">
            <h3 className="font-serif text-lg font-semibold wrap-anywhere">{shown.data.contents.title || 'Untitled page'}</h3>
            <p className="font-serif wrap-anywhere">{shown.data.contents.lead}</p>
            <div className="my-2 max-h-72 overflow-auto rounded-md border border-line bg-paper px-3 py-2 font-serif text-[14px] whitespace-pre-line wrap-anywhere">
              {shown.data.contents.blocks.map((b) => (
                <p key={b.id} className="mb-2">
                  {b.text}
                  {b.chart && <span className="block text-[13px] text-muted">(a chart)</span>}
                </p>
              ))}
            </div>
            <button type="button" className="button-bright" onClick={() => back(shown.data.contents!)}>
              Bring this one back
            </button>
          </div>
        )}
      </div>
    </Dialog>
  )
}
