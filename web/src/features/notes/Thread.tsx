import { useState } from 'react'
import { Refusal, type Me, type Note } from '../../api/client'
import { may } from '../../ui/may'
import { moment } from '../../ui/moment'
import { PersonDisc } from '../../ui/PersonDisc'
import { Trouble } from '../../ui/Words'
import { NoteField } from './NoteField'
import { NoteText } from './NoteText'
import { astray } from './onWhat'
import type { NotesHand } from './useNotes'

/** The number of a note: filled where it is open, else white with its colour. */
export const Disc = ({ number, open }: { number: number | undefined; open?: boolean }) => (
  <span
    aria-hidden
    className={`grid size-5 shrink-0 place-items-center rounded-full border-2 border-copper text-[11px] leading-none font-semibold ${open ? 'bg-copper text-paper' : 'bg-paper text-copper'}`}
  >
    {number ?? '✓'}
  </span>
)

/** A note with its answers, and what can be done with it. */
export function Thread({
  note,
  number,
  what,
  hand,
  me,
  fold,
  go,
}: {
  note: Note
  /** By which it is told apart; none: it is resolved. */
  number?: number
  /** What it is on. */
  what: string
  hand: NotesHand
  me: Me
  fold?: () => void
  /** Goes to where it stands, where that is elsewhere. */
  go?: { says: string; to: () => void }
}) {
  const [answering, setAnswering] = useState(false)
  const [rewriting, setRewriting] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const makes = may(me, 'maker')
  const own = (person?: number) => makes && (person === me.id || may(me, 'owner'))
  const attempt = async (work: Promise<unknown>) => {
    setTrouble(null)
    try {
      await work
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  const drop = () => {
    if (confirm(note.answers.length > 0 ? 'Delete the note with its answers?' : 'Delete the note?')) void attempt(hand.drop(note))
  }
  return (
    <article aria-label={`Note on ${what}`} className="flex flex-col gap-2">
      <header className="flex items-center gap-2.5 text-[13px]">
        <Disc number={number} open={!note.resolved_at} />
        <h3 className="min-w-0 flex-1 truncate text-[14px] font-semibold" title={what} dir="auto">
          {what}
        </h3>
        {fold && (
          <button type="button" className="link" onClick={fold}>
            fold
          </button>
        )}
        {makes && !note.resolved_at && !answering && (
          <button type="button" className="link" onClick={() => setAnswering(true)}>
            answer…
          </button>
        )}
        {makes && !note.resolved_at && (
          <button
            type="button"
            className="rounded-lg border-[1.5px] border-copper px-2.5 py-0.5 font-semibold text-copper hover:bg-copper-wash"
            onClick={() => void attempt(hand.resolve(note, true))}
          >
            Resolve
          </button>
        )}
      </header>
      {astray(note) && <p className="border-l-3 border-copper bg-copper-wash px-2 py-1 text-[13px]">{astray(note)}</p>}
      {rewriting ? (
        <NoteField
          label="The note"
          action="Keep"
          begins={note.text}
          keep={(text) => hand.rewrite(note, text).then(() => setRewriting(false))}
          leave={() => setRewriting(false)}
        />
      ) : (
        <Said by={note.by} person={note.person_id} at={note.created_at} text={note.text}>
          {makes && note.person_id === me.id && (
            <button type="button" className="link" onClick={() => setRewriting(true)}>
              rewrite
            </button>
          )}
          {own(note.person_id) && (
            <button type="button" className="link" onClick={drop}>
              delete
            </button>
          )}
        </Said>
      )}
      {note.answers.map((answer) => (
        <Said key={answer.id} by={answer.by} person={answer.person_id} at={answer.created_at} text={answer.text}>
          {own(answer.person_id) && (
            <button type="button" className="link" onClick={() => void attempt(hand.dropAnswer(note, answer.id))}>
              delete
            </button>
          )}
        </Said>
      ))}
      {answering && (
        <NoteField
          label="Your answer"
          action="Answer"
          keep={(text) => hand.answer(note, text).then(() => setAnswering(false))}
          leave={() => setAnswering(false)}
        />
      )}
      {note.resolved_at && (
        <p className="text-[13px] text-muted">
          resolved by {note.resolved_by || 'somebody who left'}, {moment(note.resolved_at)}
          {makes && (
            <>
              {' · '}
              <button type="button" className="link" onClick={() => void attempt(hand.resolve(note, false))}>
                open again
              </button>
            </>
          )}
        </p>
      )}
      {go && (
        <button type="button" className="link self-start text-[13px]" onClick={go.to}>
          {go.says}
        </button>
      )}
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
    </article>
  )
}

function Said({ by, person, at, text, children }: { by: string; person?: number; at: string; text: string; children?: React.ReactNode }) {
  const name = by || 'Somebody who left'
  return (
    <div className="group/said flex gap-2.5">
      <PersonDisc name={name} id={person ?? 0} size="mt-0.5 size-5.5 text-[9px]" named={false} />
      <div className="min-w-0 flex-1">
        <p className="flex flex-wrap gap-x-2 text-[12.5px] text-muted">
          <strong className="font-semibold text-ink">{name}</strong> {moment(at)}
          <span className="ml-auto flex gap-2 opacity-0 group-focus-within/said:opacity-100 group-hover/said:opacity-100">{children}</span>
        </p>
        <NoteText text={text} />
      </div>
    </div>
  )
}
