import { useState } from 'react'
import type { Me, Note, NoteSpot } from '../../api/client'
import { may } from '../../ui/may'
import { NoteField } from './NoteField'
import { onWhat, type Known } from './onWhat'
import { Thread } from './Thread'
import { numbered, type NotesHand } from './useNotes'

/** Notes one under the other, those that are resolved behind a press. */
export function Threads({ notes, hand, known, me, lit }: { notes: Note[]; hand: NotesHand; known: Known; me: Me; lit?: number }) {
  const [all, setAll] = useState(false)
  const numbers = numbered(hand.notes)
  const resolved = notes.filter((n) => n.resolved_at && n.id !== lit)
  const shown = all ? notes : notes.filter((n) => !resolved.includes(n))
  return (
    <>
      <ul className="flex flex-col gap-3">
        {shown.map((note) => (
          <li
            key={note.id}
            ref={(item) => {
              if (note.id === lit) item?.scrollIntoView({ block: 'nearest' })
            }}
            className={`rounded-[10px] border bg-paper p-3 ${note.id === lit ? 'border-[1.5px] border-copper' : 'border-line'}`}
            onFocus={() => hand.see(note)}
            onPointerEnter={() => hand.see(note)}
          >
            <Thread note={note} number={numbers.get(note.id)} what={onWhat(note, known)} hand={hand} me={me} />
          </li>
        ))}
      </ul>
      {resolved.length > 0 && (
        <button type="button" className="link mt-2 text-[13px]" onClick={() => setAll(!all)}>
          {all ? 'without those that are resolved' : `${resolved.length} resolved`}
        </button>
      )}
    </>
  )
}

/** What a new note can be on, and the field that it is written in. */
export function WriteOn({
  ways,
  first,
  hand,
  me,
  done,
}: {
  ways: { says: string; spot: NoteSpot }[]
  /** Which of the ways is taken first. */
  first: number
  hand: NotesHand
  me: Me
  done: () => void
}) {
  const [taken, setTaken] = useState(first)
  if (!may(me, 'maker')) return null
  const spot = (ways[taken] ?? ways[0]).spot
  return (
    <div className="flex flex-col gap-2 rounded-[10px] border-[1.5px] border-copper bg-paper p-3">
      <div role="radiogroup" aria-label="What the note is on" className="flex flex-wrap items-center gap-1.5 text-[13px]">
        <span className="text-muted">A note on</span>
        {ways.map(({ says }, i) => (
          <button
            key={i}
            type="button"
            role="radio"
            aria-checked={ways[i].spot === spot}
            className={`max-w-56 truncate ${choice(ways[i].spot === spot)}`}
            onClick={() => setTaken(i)}
          >
            {says}
          </button>
        ))}
      </div>
      <NoteField label="A new note" action="Keep" keep={(text) => hand.write(spot, text).then(done)} leave={done} />
    </div>
  )
}

/** How a choice of what a note is on looks. */
export const choice = (on: boolean) =>
  `rounded-full border px-2.5 py-0.5 text-[13px] ${on ? 'border-copper bg-copper-wash font-semibold text-copper' : 'border-line hover:border-copper hover:text-copper'}`
