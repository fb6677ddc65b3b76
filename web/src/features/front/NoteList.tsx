import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api } from '../../api/client'
import { counted } from '../../scale/format'
import { moment } from '../../ui/moment'
import { noteAddress } from './ForYou'

/** Notes in which what is looked for stands. */
export function NoteList({ find }: { find: string }) {
  const notes = useQuery({
    queryKey: ['notes', 'found', find],
    queryFn: () => api.notesFound({ find }),
    placeholderData: (before) => before,
  }).data
  if (!notes || notes.length === 0) return null
  return (
    <section aria-label="Notes that are found">
      <h2 className="mb-2 font-serif text-xl font-semibold">Notes</h2>
      <ul className="divide-y divide-line rounded-xl border border-line bg-paper px-4">
        {notes.map((note) => (
          <li key={note.id} className="py-2">
            <Link className="link" to={noteAddress(note)}>
              {note.name || 'something without a name'}
            </Link>{' '}
            <span className="text-[13px] text-muted">
              {[
                note.by || 'somebody who left',
                moment(note.created_at),
                note.answers.length > 0 && counted(note.answers.length, 'answer'),
                note.resolved_at && 'resolved',
              ]
                .filter(Boolean)
                .join(' · ')}
            </span>
            <p className="line-clamp-2 wrap-anywhere" dir="auto">
              {note.text}
            </p>
          </li>
        ))}
      </ul>
    </section>
  )
}
