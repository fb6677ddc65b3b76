import { useState } from 'react'
import type { Note } from '../../api/client'
import { counted } from '../../scale/format'
import { moment } from '../../ui/moment'
import { astray, onWhat } from './onWhat'
import { Disc } from './Thread'
import type { ChartNotes } from './useChartNotes'

/** Under the reading: how many notes there are, each in a line, and where a new one begins. */
export function NotesSection({ hand, writes }: { hand: ChartNotes; writes: boolean }) {
  const [unfolded, setUnfolded] = useState(false)
  const [all, setAll] = useState(false)
  const open = hand.notes.filter((n) => !n.resolved_at)
  const resolved = hand.notes.filter((n) => n.resolved_at)
  const answered = open.filter((n) => n.answers.length > 0).length
  if (hand.notes.length === 0 && !writes) return null
  return (
    <section aria-label="Notes" className="mt-3 border-t border-line pt-2.5">
      <div className="flex items-baseline gap-2.5">
        <h3 className="font-serif text-[17px] font-semibold">Notes</h3>
        <span className="min-w-0 flex-1 text-[13px] text-muted">
          {open.length > 0 && counted(open.length, 'note')}
          {answered > 0 && `, ${answered} answered`}
        </span>
        {hand.notes.length > 0 && (
          <button type="button" className="link text-[13px]" aria-expanded={unfolded} onClick={() => setUnfolded(!unfolded)}>
            {unfolded ? 'fold' : 'unfold'}
          </button>
        )}
        {writes && (
          <button type="button" className="link text-[13px]" title="Or press N" onClick={() => hand.begin()}>
            write one…
          </button>
        )}
      </div>
      {unfolded && (
        <ul className="mt-1 flex flex-col">
          {(all ? [...open, ...resolved] : open).map((note) => (
            <Line key={note.id} note={note} hand={hand} />
          ))}
        </ul>
      )}
      {unfolded && resolved.length > 0 && (
        <button type="button" className="link text-[13px]" onClick={() => setAll(!all)}>
          {all ? 'without those that are resolved' : `and ${formatResolved(resolved.length)}`}
        </button>
      )}
    </section>
  )
}

const formatResolved = (n: number) => (n === 1 ? '1 that is resolved' : `${n} that are resolved`)

function Line({ note, hand }: { note: Note; hand: ChartNotes }) {
  const wrong = astray(note)
  return (
    <li>
      <button
        type="button"
        aria-pressed={hand.open?.id === note.id}
        className={`-mx-1 flex w-[calc(100%+8px)] items-start gap-2.5 rounded-md px-1 py-1.5 text-left text-[13px] ${hand.open?.id === note.id ? 'bg-copper-wash' : 'hover:bg-copper-wash'}`}
        onClick={() => hand.show(hand.open?.id === note.id ? null : note)}
      >
        <Disc number={hand.numbers.get(note.id)} open={hand.open?.id === note.id} />
        <span className="min-w-0 flex-1">
          <span className="line-clamp-2 wrap-anywhere" dir="auto">
            {note.text}
          </span>
          <span className="block truncate text-muted">
            {note.by || 'somebody who left'} on {onWhat(note, hand.known)}, {moment(note.created_at)}
            {note.answers.length > 0 && ` · ${counted(note.answers.length, 'answer')}`}
          </span>
          {wrong && <span className="block text-copper">{wrong}</span>}
        </span>
        {note.fresh && <span className="mt-1 size-2 shrink-0 rounded-full bg-copper" role="img" aria-label="new to you" />}
      </button>
    </li>
  )
}
