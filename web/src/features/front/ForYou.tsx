import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Note } from '../../api/client'
import { moment } from '../../ui/moment'
import { PersonDisc } from '../../ui/PersonDisc'
import { onWhat } from '../notes/onWhat'

/** Where a note is read. */
export const noteAddress = (note: Note): string =>
  note.page_id
    ? `/page/${note.page_id}?note=${note.id}`
    : note.chart_id
      ? `/dataset/${note.of_dataset}/chart/${note.chart_id}?note=${note.id}`
      : `/dataset/${note.dataset_id}/data?note=${note.id}`

/** How many are shown before all are asked for. */
const FEW = 5

/** What was said last in a note. */
const last = (note: Note) => note.answers.at(-1) ?? note

/** Notes that concern whoever looks, and that they have not seen. */
export function ForYou() {
  const queries = useQueryClient()
  const notes = useQuery({ queryKey: ['notes', 'fresh'], queryFn: () => api.notesFound({ fresh: true }) }).data ?? []
  const [all, setAll] = useState(false)
  if (notes.length === 0) return null
  const seen = async (note: Note) => {
    await api.seeNote(note.id)
    await queries.invalidateQueries({ queryKey: ['notes'] })
  }
  return (
    <section aria-label="For you" className="rounded-xl border-[1.5px] border-copper bg-strip px-5 py-3.5">
      <h2 className="mb-1 font-serif text-xl font-semibold">For you</h2>
      <ul>
        {notes.slice(0, all ? undefined : FEW).map((note) => (
          <li key={note.id} className="flex items-start gap-3 border-t border-line py-2 first:border-0">
            <PersonDisc name={last(note).by || '?'} id={last(note).person_id ?? 0} size="mt-0.5 size-6 text-[10px]" named={false} />
            <div className="min-w-0 flex-1">
              <p className="text-[13px] text-muted">
                <strong className="font-semibold text-ink">{last(note).by || 'Somebody who left'}</strong>{' '}
                {note.named ? 'named you in a note' : note.answers.length > 0 ? 'answered a note' : 'wrote a note'} on{' '}
                <Link className="link" to={noteAddress(note)}>
                  {note.name || 'something without a name'}
                </Link>
                {note.spot.kind !== 'whole' && `, ${onWhat(note)}`}, {moment(last(note).created_at)}
                {note.resolved_at && ', resolved since'}
              </p>
              <p className="line-clamp-2 wrap-anywhere" dir="auto">
                {last(note).text}
              </p>
            </div>
            <button type="button" className="link shrink-0 text-[13px]" onClick={() => void seen(note)}>
              seen
            </button>
          </li>
        ))}
      </ul>
      {!all && notes.length > FEW && (
        <button type="button" className="link text-[13px]" onClick={() => setAll(true)}>
          and {notes.length - FEW} more
        </button>
      )}
    </section>
  )
}
