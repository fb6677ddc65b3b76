import { useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { api } from '../../api/client'
import { counted } from '../../scale/format'
import { moment } from '../../ui/moment'
import type { DraftState } from '../../state/pageDraft'
import type { SubjectHand } from '../together/useSubject'
import type { PageHand } from './usePage'

/** Under a page that is written: whether it is kept, and what can be done with it. */
export function Foot({
  page,
  title,
  hand,
  together,
  earlier,
}: {
  page: number
  title: string
  hand: PageHand
  together: SubjectHand
  earlier: () => void
}) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const { draft, state } = hand
  const writing = together.others.filter((h) => h.place)
  const drop = async () => {
    if (!confirm(`Delete the page “${title}”? What is shared of it stays until it is withdrawn.`)) return
    hand.forget()
    await api.dropPage(page)
    await queries.invalidateQueries({ queryKey: ['pages'] })
    navigate('/')
  }
  const duplicate = async () => {
    await draft.flush()
    const copy = await api.addPage({ ...draft.get().contents, title: `Copy of ${title}`.slice(0, 500) })
    navigate(`/page/${copy.id}`)
  }
  return (
    <footer className="flex min-h-9 flex-wrap items-center gap-x-5 gap-y-1 border-t border-line bg-strip px-5 py-1.5 text-[13px]">
      <Status state={state} />
      {!together.connected && state.status === 'kept' && (
        <span role="status" className="text-copper">
          No connection: what others write is not seen
        </span>
      )}
      {writing.length > 0 && (
        <span>{writing.length === 1 ? `${writing[0].name} is writing, too` : `${writing.length} others are writing, too`}</span>
      )}
      {state.twice > 0 && (
        <span role="alert" className="text-copper">
          Somebody wrote in the same block: both texts are kept, one behind the other.
        </span>
      )}
      {state.contents.blocks.filter((b) => b.chart).length > 1 && (
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={state.contents.same_axes ?? false}
            onChange={(e) => draft.change('axes', (c) => ({ ...c, same_axes: e.target.checked }))}
          />
          charts of one column share its axis
        </label>
      )}
      <span className="ml-auto flex flex-wrap gap-5">
        <button type="button" className="link" onClick={() => draft.undo()}>
          undo
        </button>
        <button type="button" className="link" onClick={earlier}>
          earlier versions
        </button>
        <button type="button" className="link" onClick={() => void duplicate()}>
          duplicate
        </button>
        <button type="button" className="link" onClick={() => void drop()}>
          delete
        </button>
      </span>
    </footer>
  )
}

/** Whether what was written is kept. */
function Status({ state }: { state: DraftState }) {
  const { status, keptAt, changedBy, trouble, contents } = state
  if (status === 'trying')
    return (
      <span role="status" className="text-copper">
        not saved yet; trying again ({trouble})
      </span>
    )
  if (status !== 'kept') return <span role="status">saving…</span>
  const ago = Date.now() - keptAt
  return (
    <span role="status">
      saved {ago < 60_000 ? 'a moment ago' : moment(new Date(keptAt).toISOString())}
      {changedBy && ` · last written by ${changedBy}`} · {counted(contents.blocks.length, 'block')}
    </span>
  )
}
