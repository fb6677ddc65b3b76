import { useState } from 'react'
import type { Me } from '../../api/client'
import { may } from '../../ui/may'
import { Threads, WriteOn } from '../notes/Threads'
import type { NotesHand } from '../notes/useNotes'

/** Notes on a block of a page, below it; readers of what is shared see none of them. */
export function BlockNotes({
  block,
  number,
  hand,
  me,
  lit,
  writing,
  done,
}: {
  block: string
  number: number
  hand: NotesHand
  me: Me
  lit: number
  /** Whether one is being written. */
  writing: boolean
  done: () => void
}) {
  const [unfolded, setUnfolded] = useState(false)
  const notes = hand.notes.filter((n) => n.spot.kind === 'paragraph' && n.spot.block === block)
  const open = notes.filter((n) => !n.resolved_at).length
  const shown = unfolded || notes.some((n) => n.id === lit)
  if (!writing && notes.length === 0) return null
  const known = { block: () => `block ${number}` }
  return (
    <section aria-label={`Notes on block ${number}`} className="mx-5 mb-2 flex flex-col gap-2">
      {notes.length > 0 && (
        <p className="flex gap-3 text-[13px] text-muted">
          {open === 0 ? 'All notes are resolved' : open === 1 ? '1 note' : `${open} notes`}
          <button type="button" className="link" aria-expanded={shown} onClick={() => setUnfolded(!shown)}>
            {shown ? 'fold' : 'unfold'}
          </button>
        </p>
      )}
      {shown && <Threads notes={notes} hand={hand} known={known} me={me} lit={lit} />}
      {writing && may(me, 'maker') && (
        <WriteOn
          ways={[{ says: `block ${number}`, spot: { kind: 'paragraph', block } }]}
          first={0}
          hand={hand}
          me={me}
          done={() => (setUnfolded(true), done())}
        />
      )}
    </section>
  )
}
