import { Popover } from 'radix-ui'
import { useEffect, useRef, useState, type ReactNode, type RefObject } from 'react'
import type { ColumnProfile, Document, Sayable } from '../api/client'
import type { Part } from '../figure/figure'
import type { Bench } from '../state/bench'
import { useBench } from '../state/useBench'
import { focusOn } from '../ui/focus'
import { takesSingleKeys } from '../ui/singleKeys'
import { Trouble } from '../ui/Words'
import { AddMenu } from './AddMenu'
import { AxisForm } from './AxisForm'
import { TitleForm, WhereForm } from './forms'
import { useNarrow } from '../ui/useNarrow'
import { wordLook } from './look'
import { useFold } from './useFold'
import { WordMenu } from './WordMenu'
import { over } from '../ui/over'

interface Props {
  bench: Bench
  columns: ColumnProfile[]
  open: string | null
  setOpen: (slot: string | null) => void
  onNew: () => void
  typing: boolean
  /** Opens the typed sentence, with a clause behind it where one is given. */
  setTyping: (typing: boolean | Sayable) => void
  /** What has the chart again. */
  again?: ReactNode
  /** What stands before the sentence. */
  before?: ReactNode
}

/** The sentence over the chart: spoken with words that can be pressed, or typed. */
export function Sentence({ bench, columns, open, setOpen, onNew, typing, setTyping, again, before }: Props) {
  const state = useBench(bench, 'document', 'drawing', 'preview', 'refusal')
  const openNow = useRef(open)
  openNow.current = open
  const spoken = state.preview?.spoken ?? state.drawing?.spoken ?? unsaid(state.document, columns)
  const narrow = useNarrow()
  const words = useRef<HTMLParagraphElement>(null)
  const [unfolded, setUnfolded] = useState(false)
  const section = useRef<HTMLElement>(null)
  // Who opened the chart goes on with its sentence: the focus is not left where the view before was.
  useEffect(() => void (document.activeElement === document.body && focusOn(section.current)), [])
  const fits = useFold(words, narrow ? 2 : 3, unfolded, spoken.map(shown).join(''))
  const hidden = spoken.slice(fits).filter((p) => p.slot).length
  const close = () => {
    setOpen(null)
    if (bench.get().preview) void bench.preview(null)
    bench.clearRefusal()
  }
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.key !== '/' || e.defaultPrevented || e.ctrlKey || e.metaKey || !takesSingleKeys(e.target)) return
      e.preventDefault()
      setTyping(true)
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [setTyping])
  return (
    <section
      ref={section}
      tabIndex={-1}
      aria-label="Sentence"
      className="shrink-0 outline-none border-b border-line bg-strip px-5.5 py-2.5 max-[1100px]:py-1.5 slim:px-3"
    >
      <div className="flex items-start gap-6 slim:flex-col slim:gap-1.5">
        <p
          ref={words}
          className="min-w-0 flex-1 font-serif text-[21px] leading-[34px] max-[1100px]:text-[19px] max-[1100px]:leading-[31px] slim:text-[17px] slim:leading-[28px]"
        >
          {before}
          {spoken.slice(0, fits).map((part, i) => (
            <span key={`${i} ${part.slot ?? ''}`} data-part={part.slot ? 'word' : 'said'}>
              {part.slot ? (
                <Word
                  part={part}
                  bench={bench}
                  columns={columns}
                  open={open === part.slot && spoken.findIndex((p) => p.slot === open) === i}
                  openNow={openNow}
                  setOpen={setOpen}
                  close={close}
                />
              ) : (
                part.text
              )}
            </span>
          ))}{' '}
          {(hidden > 0 || unfolded) && (
            <button
              type="button"
              className="mr-1.5 rounded-md border border-copper px-2.5 py-1 align-[3px] font-sans text-[13px] leading-4 text-copper"
              aria-expanded={unfolded}
              onClick={() => setUnfolded(!unfolded)}
            >
              {unfolded ? 'fold' : `and ${hidden} more`}
            </button>
          )}
          <AddMenu
            bench={bench}
            open={open === 'add'}
            setOpen={(yes) => (yes ? setOpen('add') : close())}
            opens={setOpen}
            write={setTyping}
          />
          <Elsewhere
            bench={bench}
            columns={columns}
            spoken={spoken.slice(0, fits)}
            slot={open}
            openNow={openNow}
            setOpen={setOpen}
            close={close}
          />
        </p>
        <div className="flex shrink-0 gap-2 font-sans text-[13px]">
          <button type="button" className="button-plain" onClick={onNew} title="Begin a new chart of this dataset">
            New chart
          </button>
          {again}
          <button
            type="button"
            className={`button-plain ${typing ? 'border-copper! bg-copper-wash text-copper' : ''}`}
            aria-pressed={typing}
            onClick={() => setTyping(true)}
          >
            Type it <kbd className="ml-1 rounded border border-line px-1.5">/</kbd>
          </button>
        </div>
      </div>
      {!typing && !open && state.refusal && (
        <div className="mt-1.5">
          <Trouble message={state.refusal.message} advice={state.refusal.advice}>
            {state.refusal.passing && (
              <button type="button" className="link ml-2" onClick={() => void bench.again()}>
                Ask again
              </button>
            )}
            <button type="button" className="link ml-2" onClick={() => bench.clearRefusal()}>
              Close
            </button>
          </Trouble>
        </div>
      )}
    </section>
  )
}

/** What stands in the sentence: a long text is folded, and a press or a copy gives it whole. */
const shown = (part: Part) => part.folded || part.text

/** How many letters of a folded text are shown where it is pointed at. */
const MOST_TITLE = 1000

/** A sentence that waits for its columns. */
function unsaid(d: Pick<Document, 'x' | 'y'>, columns: ColumnProfile[]): Part[] {
  const name = ({ column }: Document['x']) => columns.find((c) => c.name === column)?.prose ?? (column || '…')
  return [
    { text: 'Plot ' },
    { text: name(d.y), slot: 'y', role: 'column' },
    { text: ' against ' },
    { text: name(d.x), slot: 'x', role: 'column' },
    { text: '.' },
  ]
}

interface WordProps {
  part: Part
  bench: Bench
  columns: ColumnProfile[]
  open: boolean
  openNow: RefObject<string | null>
  setOpen: (slot: string | null) => void
  close: () => void
}

/** Where something was pressed last: what opens by a press on the chart stands there. */
const pressed = { x: 0, y: 0, onChart: false }
document.addEventListener(
  'pointerdown',
  (e) =>
    Object.assign(pressed, { x: e.clientX, y: e.clientY, onChart: (e.target as Element).closest('section[aria-label=Chart]') !== null }),
  true,
)
const PRESSED = { current: { getBoundingClientRect: () => new DOMRect(pressed.x, pressed.y, 0, 0) } }

function Word({ part, bench, columns, open, openNow, setOpen, close }: WordProps) {
  return (
    <Popover.Root open={open} onOpenChange={(yes) => (yes ? setOpen(part.slot!) : close())}>
      <Popover.Trigger
        className={`max-w-full text-left wrap-anywhere ${wordLook(part.role)} ${open ? 'bg-copper-wash' : 'hover:bg-copper-wash'}`}
        data-slot={part.slot}
        title={part.folded && part.text.slice(0, MOST_TITLE)}
      >
        {shown(part)}
      </Popover.Trigger>
      {open && pressed.onChart && <Popover.Anchor virtualRef={PRESSED} />}
      <Popover.Portal container={over()}>
        <Popover.Content
          aria-label={`In place of ${shown(part)}`}
          align="start"
          sideOffset={6}
          collisionPadding={12}
          className="z-20 max-h-(--radix-popover-content-available-height) overflow-y-auto rounded-xl font-sans outline-none"
          onOpenAutoFocus={(e) => e.preventDefault()}
          onCloseAutoFocus={(e) => openNow.current && e.preventDefault() /* another word is open already, and keeps the focus */}
        >
          <SlotContent slot={part.slot!} bench={bench} columns={columns} setOpen={setOpen} close={close} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** What a slot opens: a list of what could be said instead, or a small form. */
function SlotContent({
  slot,
  bench,
  columns,
  setOpen,
  close,
}: {
  slot: string
  bench: Bench
  columns: ColumnProfile[]
  setOpen: (slot: string | null) => void
  close: () => void
}) {
  if (slot === 'where') return <WhereForm bench={bench} columns={columns} close={close} />
  if (slot === 'title' || slot === 'subtitle' || slot === 'note') return <TitleForm bench={bench} first={slot} close={close} />
  if (slot === 'limits-x' || slot === 'limits-y') {
    const axis = slot === 'limits-x' ? 'x' : 'y'
    return <AxisForm bench={bench} axis={axis} close={close} another={() => setOpen(axis)} />
  }
  return <WordMenu slot={slot} bench={bench} columns={columns} close={close} />
}

/** Opens a slot that no word of the sentence stands for yet: what was just added, or pressed on the chart. */
function Elsewhere({
  bench,
  columns,
  spoken,
  slot,
  openNow,
  setOpen,
  close,
}: {
  bench: Bench
  columns: ColumnProfile[]
  spoken: Part[]
  slot: string | null
  openNow: RefObject<string | null>
  setOpen: (slot: string | null) => void
  close: () => void
}) {
  const away = slot !== null && slot !== 'add' && !spoken.some((p) => p.slot === slot)
  return (
    <Popover.Root open={away} onOpenChange={(yes) => !yes && close()}>
      {pressed.onChart ? <Popover.Anchor virtualRef={PRESSED} /> : <Popover.Anchor className="inline-block w-0" />}
      <Popover.Portal container={over()}>
        <Popover.Content
          aria-label="What can be said of it"
          align="start"
          sideOffset={6}
          collisionPadding={12}
          className="z-20 max-h-(--radix-popover-content-available-height) overflow-y-auto rounded-xl font-sans outline-none"
          onOpenAutoFocus={(e) => e.preventDefault()}
          onCloseAutoFocus={(e) => openNow.current && e.preventDefault()}
        >
          {away && <SlotContent slot={slot} bench={bench} columns={columns} setOpen={setOpen} close={close} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
