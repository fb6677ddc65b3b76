import { useRef, useState, type DragEvent, type KeyboardEvent } from 'react'
import { Link } from 'react-router'
import type { Block, Here, PageDrawing } from '../../api/client'
import type { Shown } from '../../figure/figure'
import type { LinkedBy } from '../chart/LiveChart'
import { personColour } from '../../ui/initials'
import { PersonDisc } from '../../ui/PersonDisc'
import { PageChart, type SharedAxes } from './PageChart'
import { GONE, WAS } from './markdown'
import { TextEditor, type PressedTie, type TextHand } from './TextEditor'

/** Where a chart can stand, and what a press that leads there says. */
type Place = NonNullable<Block['place']>
const PLACES: { place: Place; says: string }[] = [
  { place: 'right', says: 'chart on the right' },
  { place: 'left', says: 'chart on the left' },
  { place: 'below', says: 'chart below the text' },
  { place: 'above', says: 'chart above the text' },
]

const HEIGHTS: Record<Place, number> = { right: 230, left: 230, below: 320, above: 320 }

const tied = /\]\(reading:[a-z0-9.-]+(?: "((?:[^"\\]|\\.)*)")?\)/g

/** What of a text comes from the reading: whether any does, is otherwise now, or is said no more. */
function tiesOf(text: string): { some: boolean; changed: number; gone: number } {
  const states = [...text.matchAll(tied)].map((m) => m[1] ?? '')
  return {
    some: states.length > 0,
    changed: states.filter((s) => s.startsWith(WAS)).length,
    gone: states.filter((s) => s === GONE).length,
  }
}

/** What a page can do with one of its blocks. */
export interface BlockHand {
  write: (text: string) => void
  place: (place: Place) => void
  follow: (step: number) => void
  take: (what: 'chart' | 'text') => void
  copy: () => void
  out: () => void
  move: (by: -1 | 1) => void
  dropped: (id: string) => void
}

/** A block of a page that is written: its text beside its chart, and what can be done with it. */
export function BlockView({
  block,
  number,
  here,
  writes,
  linked,
  axes,
  come,
  drawn,
  dataset,
  hand,
  text,
  writer,
  stand,
  note,
}: {
  block: Block
  number: number
  /** Whether it is the one that is written in. */
  here: boolean
  writes: boolean
  linked: LinkedBy
  axes: SharedAxes
  come: () => void
  drawn: (drawing: PageDrawing | null) => void
  /** Of its chart, once it is drawn. */
  dataset: number
  hand: BlockHand
  text: (hand: TextHand | null) => void
  /** Who else writes in it now. */
  writer?: Here
  stand: (block: string) => void
  /** Begins a note on it. */
  note: () => void
}) {
  const [tie, setTie] = useState<PressedTie | null>(null)
  const [lit, setLit] = useState<Shown | null>(null)
  const drawing = useRef<PageDrawing | null>(null)
  const editor = useRef<TextHand | null>(null)
  const place = block.place || 'right'
  const { chart } = block
  const beside = chart && (place === 'right' || place === 'left')
  const ties = tiesOf(block.text ?? '')
  const keyed = (e: KeyboardEvent) => {
    if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return
    e.preventDefault()
    hand.move(e.key === 'ArrowUp' ? -1 : 1)
  }
  const onDrop = (e: DragEvent) => {
    const id = e.dataTransfer.getData('application/x-lark-block')
    if (!id) return
    e.preventDefault()
    e.stopPropagation()
    hand.dropped(id)
  }
  const showTie = (pressed: PressedTie) => {
    setTie(pressed)
    const statement = drawing.current?.said.find((s) => s.key === pressed.key)
    setLit((statement && drawing.current?.reading.paragraphs[statement.of]?.shows) ?? null)
  }
  const words = (
    <div className="min-w-0">
      <TextEditor
        ref={(hand) => {
          editor.current = hand
          text(hand)
        }}
        text={block.text ?? ''}
        label={`Text of block ${number}`}
        hint={chart ? 'Say what this chart shows' : 'Write here'}
        writes={writes && !writer}
        onChange={(text) => {
          stand(block.id)
          hand.write(text)
        }}
        onFocus={() => {
          come()
          stand(block.id)
        }}
        onTie={showTie}
      />
      {writer && <p className="mt-1 text-[12px] text-copper">{writer.name} is writing here</p>}
      {writes && ties.some && (
        <p className={`mt-1 text-[12px] ${ties.gone || ties.changed ? 'text-copper' : 'text-muted'}`}>
          <span aria-hidden className="tie-sign" />{' '}
          {ties.gone > 0
            ? 'the chart no longer says what is marked'
            : ties.changed > 0
              ? 'the chart changed, and the marked words with it'
              : 'from the reading; follows the chart'}
        </p>
      )}
      {tie && (
        <TiePanel
          tie={tie}
          close={() => {
            setTie(null)
            setLit(null)
          }}
        />
      )}
    </div>
  )
  const picture = chart && (
    <PageChart
      shown={chart}
      height={HEIGHTS[place]}
      lit={lit}
      linked={linked}
      axes={axes}
      onDrawn={(next) => {
        drawing.current = next
        drawn(next)
      }}
    />
  )
  return (
    <section
      aria-label={`Block ${number}`}
      data-block={block.id}
      className={`group/block relative rounded-[10px] border-2 px-5 py-3 ${!writes ? 'border-transparent' : here ? 'border-copper' : 'border-transparent hover:border-line'}`}
      onPointerDown={come}
      onFocus={come}
      onDragOver={(e) => e.dataTransfer.types.includes('application/x-lark-block') && e.preventDefault()}
      onDrop={onDrop}
      onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && stand('')}
    >
      {writer && (
        <span
          aria-hidden
          className="absolute top-3 bottom-3 left-1 w-0.5 opacity-45"
          style={{ background: personColour(writer.person_id) }}
        />
      )}
      {writer && (
        <span className="absolute top-3 -left-2">
          <PersonDisc name={writer.name} id={writer.person_id} size="size-5 text-[9px]" />
        </span>
      )}
      {writes && (
        <>
          <button
            type="button"
            draggable
            aria-label={`Move block ${number}: drag it, or press the arrow keys up and down`}
            title="Drag to move; or focus and press ↑ ↓"
            className={`absolute top-1/2 -left-[11px] grid h-10 w-5 -translate-y-1/2 cursor-grab place-items-center rounded-full border-[1.5px] border-copper bg-paper text-copper ${here ? '' : 'opacity-0 group-hover/block:opacity-100 focus:opacity-100'}`}
            onDragStart={(e) => {
              e.dataTransfer.setData('application/x-lark-block', block.id)
              e.dataTransfer.effectAllowed = 'move'
            }}
            onKeyDown={keyed}
          >
            <svg width="8" height="20" viewBox="0 0 8 20" aria-hidden fill="none" stroke="currentColor" strokeWidth="1.4">
              <path d="M4 2v16M1 5l3-3 3 3M1 15l3 3 3-3" />
            </svg>
          </button>
          <div
            role="group"
            aria-label={`What can be done with block ${number}`}
            className={`absolute -top-[15px] right-2 z-10 flex max-w-full divide-x divide-line overflow-hidden rounded-lg border-[1.5px] border-copper bg-paper text-[12.5px] font-medium text-copper max-[720px]:static max-[720px]:mb-2 max-[720px]:flex-wrap ${here ? '' : 'hidden'}`}
          >
            {chart &&
              PLACES.filter((p) => p.place !== place).map((p) => (
                <Way key={p.place} press={() => hand.place(p.place)}>
                  {p.says}
                </Way>
              ))}
            {chart && dataset > 0 && (
              <Link className="px-2.5 py-1 hover:bg-copper-wash" to={`/dataset/${dataset}/chart/${chart.id}`}>
                open the chart
              </Link>
            )}
            {chart && (
              <Way
                press={() => hand.follow(chart.step ? 0 : (drawing.current?.chart.head_step_id ?? 0))}
                title={
                  chart.step
                    ? 'It stands as it was; pressed, it follows its chart again'
                    : 'It follows its chart; pressed, it stays as it is now'
                }
              >
                {chart.step ? 'follow the chart' : 'keep as it is'}
              </Way>
            )}
            <Way press={note}>note…</Way>
            <Way press={hand.copy}>copy</Way>
            {chart && <Way press={() => hand.take('chart')}>without the chart</Way>}
            <Way press={hand.out}>take out</Way>
          </div>
        </>
      )}
      <div
        className={
          beside
            ? `grid gap-x-8 gap-y-2 max-[1000px]:grid-cols-1 ${place === 'left' ? 'grid-cols-[minmax(0,2fr)_minmax(0,1fr)] max-[1000px]:[&>*:first-child]:order-last' : 'grid-cols-[minmax(0,1fr)_minmax(0,2fr)]'}`
            : 'flex flex-col gap-2'
        }
      >
        {place === 'left' || place === 'above' ? (
          <>
            {picture}
            {words}
          </>
        ) : (
          <>
            {words}
            {picture}
          </>
        )}
      </div>
    </section>
  )
}

function Way({ press, title, children }: { press: () => void; title?: string; children: string }) {
  return (
    <button type="button" title={title} className="px-2.5 py-1 hover:bg-copper-wash" onClick={press}>
      {children}
    </button>
  )
}

/** What can be done with tied words that were pressed. */
function TiePanel({ tie, close }: { tie: PressedTie; close: () => void }) {
  const changed = tie.state.startsWith(WAS)
  const then = (act: () => void) => () => {
    act()
    close()
  }
  return (
    <div
      role="group"
      aria-label="Words from the reading"
      className="mt-1 rounded-md border border-copper bg-strip px-3 py-2 text-[13px]"
      onKeyDown={(e) => e.key === 'Escape' && close()}
    >
      <p className="mb-1">
        {tie.state === GONE
          ? `The chart no longer says “${tie.words}”.`
          : changed
            ? `It said “${tie.state.slice(WAS.length)}”; it says “${tie.words}” now.`
            : 'These words are the reading’s, and follow the chart. It is marked in the chart what they speak of.'}
      </p>
      <span className="flex flex-wrap gap-4">
        {changed && (
          <button type="button" className="link" onClick={then(tie.noted)}>
            it is well so
          </button>
        )}
        <button type="button" className="link" onClick={then(tie.untie)}>
          keep as it stands
        </button>
        <button type="button" className="link" onClick={close}>
          close
        </button>
      </span>
    </div>
  )
}
