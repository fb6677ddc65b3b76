import { useState } from 'react'
import type { ColumnProfile, Me, NoteSpot } from '../../api/client'
import { counted } from '../../scale/format'
import { may } from '../../ui/may'
import { Threads, WriteOn } from '../notes/Threads'
import type { NotesHand } from '../notes/useNotes'

/** Notes on the dataset, its columns and its rows. */
export function DatasetNotes({
  hand,
  me,
  columns,
  column,
  version,
  chosen,
  lit,
  done,
}: {
  hand: NotesHand
  me: Me
  columns: ColumnProfile[]
  /** On which a note is being written; empty: none. */
  column: string
  version: number
  chosen: number[] | null
  lit: number
  done: () => void
}) {
  const [writing, setWriting] = useState(false)
  const label = (name: string) => columns.find((c) => c.name === name)?.label ?? name
  const ways: { says: string; spot: NoteSpot }[] = [
    { says: 'the dataset', spot: { kind: 'whole' } },
    ...(column ? [{ says: label(column), spot: { kind: 'column' as const, column } }] : []),
    ...(chosen
      ? [
          {
            says: `${counted(chosen.length, 'row')} chosen`,
            spot: { kind: 'rows' as const, version_id: version, rows: chosen.map((r) => r + 1) },
          },
        ]
      : []),
  ]
  return (
    <section aria-label="Notes" className="min-h-0 flex-1 overflow-auto rounded-xl border border-line bg-strip p-4">
      <div className="mx-auto flex max-w-2xl flex-col gap-3">
        {writing || column ? (
          <WriteOn
            key={column}
            ways={ways}
            first={ways.length - 1}
            hand={hand}
            me={me}
            done={() => {
              setWriting(false)
              done()
            }}
          />
        ) : (
          <p className="flex items-baseline gap-3 text-[13px] text-muted">
            {hand.notes.length === 0 && 'No notes on this dataset, its columns or its rows.'}
            {may(me, 'maker') && (
              <button type="button" className="link" onClick={() => setWriting(true)}>
                write one…
              </button>
            )}
          </p>
        )}
        <Threads notes={hand.notes} hand={hand} known={{ column: label }} me={me} lit={lit} />
      </div>
    </section>
  )
}
