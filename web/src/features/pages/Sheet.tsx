import { useState, type DragEvent } from 'react'
import type { Me } from '../../api/client'
import type { NotesHand } from '../notes/useNotes'
import type { SubjectHand } from '../together/useSubject'
import { Between } from './Between'
import { BlockNotes } from './BlockNotes'
import { BlockView } from './BlockView'
import { Line } from './Line'
import type { PageHand } from './usePage'

/** What is dragged onto a page from beside it. */
export const CHART_DRAGGED = 'application/x-lark-chart'

/** The sheet of a page: its title, what it comes to, and its blocks. */
export function Sheet({
  title,
  hand,
  writes,
  together,
  stand,
  notes,
  me,
  lit,
}: {
  title: string
  hand: PageHand
  writes: boolean
  together: SubjectHand
  /** Says in which block one writes; empty: in none. */
  stand: (block: string) => void
  notes: NotesHand
  me: Me
  /** The note that was asked for. */
  lit: number
}) {
  const [noting, setNoting] = useState('')
  const { draft, put } = hand
  const { contents } = hand.state
  const last = contents.blocks.at(-1)?.id ?? ''
  const over = (e: DragEvent) => e.dataTransfer.types.includes(CHART_DRAGGED) && e.preventDefault()
  const drop = (after: string) => (e: DragEvent) => {
    const id = Number(e.dataTransfer.getData(CHART_DRAGGED))
    if (!id) return
    e.preventDefault()
    e.stopPropagation()
    put({ id }, after)
  }
  return (
    <div className="mx-auto max-w-[1040px] rounded-[10px] border border-line bg-paper px-4 py-6" onDragOver={over} onDrop={drop(last)}>
      <div className="px-5">
        <h1 className="sr-only">{title}</h1>
        <Line
          label="Title of the page"
          hint="Title of the page"
          className="font-serif text-[28px] leading-9 font-semibold"
          most={500}
          writes={writes}
          text={contents.title}
          write={(text) => draft.change('title', (c) => ({ ...c, title: text }))}
        />
        <Line
          label="Under the title"
          hint={writes ? 'What it comes to, in a sentence or two' : ''}
          className="font-serif text-base leading-6"
          most={2000}
          writes={writes}
          text={contents.lead ?? ''}
          write={(text) => draft.change('lead', (c) => ({ ...c, lead: text }))}
        />
        <hr className="mt-3 mb-3 border-line" />
      </div>
      {writes && <Between after="" hand={hand} />}
      {contents.blocks.map((block, i) => (
        <div key={block.id} onDragOver={over} onDrop={drop(block.id)}>
          <BlockView
            block={block}
            number={i + 1}
            here={hand.here === block.id}
            writes={writes}
            linked={hand.linked}
            axes={hand.axes}
            come={() => hand.setHere(block.id)}
            writer={together.others.find((h) => h.place === block.id)}
            stand={stand}
            note={() => setNoting(block.id)}
            drawn={(next) => hand.drawn(block.id, next)}
            dataset={hand.drawings[block.id]?.chart.dataset_id ?? 0}
            hand={hand.handOf(block)}
            text={(text) => hand.text(block.id, text)}
          />
          <BlockNotes
            block={block.id}
            number={i + 1}
            hand={notes}
            me={me}
            lit={lit}
            writing={noting === block.id}
            done={() => setNoting('')}
          />
          {writes && <Between after={block.id} hand={hand} last={block.id === last} />}
        </div>
      ))}
      {contents.blocks.length === 0 && (
        <p className="px-5 py-6 text-muted">
          This page is empty.
          {writes && (
            <>
              {' '}
              Press a chart beside it to put it in, or{' '}
              <button type="button" className="link" onClick={() => hand.writeAfter('')}>
                begin with a text
              </button>
              .
            </>
          )}
        </p>
      )}
    </div>
  )
}
