import { DropdownMenu } from 'radix-ui'
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import type { Here, Step } from '../../api/client'
import { SMALL, type Bench, type Coming } from '../../state/bench'
import { counted } from '../../scale/format'
import type { Branch, TrailShape } from '../../state/trail'
import { useBench } from '../../state/useBench'
import { personColour } from '../../ui/initials'
import { ITEM, MENU } from '../../ui/menu'
import { moment } from '../../ui/moment'
import { over } from '../../ui/over'
import { STEP_DRAGGED } from '../compare/sides'
import { Disc } from '../notes/Thread'
import type { ChartNotes } from '../notes/useChartNotes'
import { Grown } from './Grown'
import { ChartPicture, PictureAtHand } from './ChartPicture'
import { PersonDisc } from '../../ui/PersonDisc'

/** What can be done with steps. */
export interface TrailHand {
  bench: Bench
  compare: (step?: number) => Promise<void>
  take: (step: Step) => void
  /** Who else is here, and the step that somebody of them just made. */
  others: Here[]
  fresh: Step | null
  notes: ChartNotes
}

/** How a press looks on the ground of the trail, on which copper is too pale. */
export const LINK = 'text-ink underline underline-offset-3 hover:text-copper'

/** The measures of the trail, in pixels: a step, a fold, the way between two, and where the others' row begins. */
const STEP = 106
const FOLD = 74
const GAP = 16
const BELOW = 90
/** How wide a step of another branch is, and how many of it are shown. */
const SMALL_STEP = 112
const MOST_SMALL = 4
/** How many branches are shown before all are asked for, and how near a branch is to where it leaves for a line to lead there. */
const MOST_BRANCHES = 12
const NEAR = 140
/** How wide a step is that somebody else just made. */
const FRESH_STEP = 214

/** The branch that one stands on, and below it the others, each from where it leaves. */
export function Tree({
  shape,
  at,
  coming,
  hand,
  unfold,
}: {
  shape: TrailShape
  at: number
  coming: Coming[]
  hand: TrailHand
  unfold: (first: number) => void
}) {
  let x = 0
  const places = new Map<number, number>() // where each step ends
  const main = shape.main.map((stretch) => {
    const left = x
    x += ('step' in stretch ? STEP : FOLD) + GAP
    for (const step of 'step' in stretch ? [stretch.step] : stretch.folded) places.set(step.id, x - GAP)
    return { stretch, left }
  })
  const end = shape.ends[0]?.id
  return (
    <div className="relative min-w-0 flex-1 self-stretch overflow-x-auto pt-4">
      <ol className="flex items-center">
        {main.map(({ stretch, left }) =>
          'step' in stretch ? (
            <Kept
              key={stretch.step.id}
              step={stretch.step}
              first={left === 0}
              here={stretch.step.id === at && coming.length === 0}
              hand={hand}
            />
          ) : (
            <li key={`fold ${stretch.folded[0].id}`} className="flex shrink-0 items-center">
              <Way />
              <button
                type="button"
                style={{ width: FOLD }}
                className="rounded-lg border border-dashed border-muted py-2 text-xs text-muted hover:border-copper hover:text-copper"
                onClick={() => unfold(stretch.folded[0].id)}
              >
                {counted(stretch.folded.length, 'step')}
              </button>
            </li>
          ),
        )}
        {coming.map((step, i) => (
          <Stop
            key={`coming ${i}`}
            words={step.words}
            here={i === coming.length - 1}
            first={shape.main.length + i === 0}
            follows={i > 0 || at === end}
          >
            <PictureAtHand svg={step.picture} {...SMALL} />
          </Stop>
        ))}
      </ol>
      <Others branches={shape.branches} places={places} hand={hand} />
    </div>
  )
}

const Way = ({ dashed }: { dashed?: boolean }) => (
  <span aria-hidden className={`h-px w-4 ${dashed ? 'border-t border-dashed border-muted' : 'bg-verdigris'}`} />
)

/** A step that is kept, with what can be done with it. */
function Kept({ step, first, here, hand }: { step: Step; first: boolean; here: boolean; hand: TrailHand }) {
  const { bench } = hand
  const { chart, pictures } = useBench(bench, 'chart', 'pictures')
  return (
    <Stop step={step} words={step.name || step.words} here={here} first={first} follows walk={() => void bench.walkTo(step)} hand={hand}>
      {pictures.has(step.id) ? (
        <PictureAtHand svg={pictures.get(step.id)!} {...SMALL} />
      ) : (
        <ChartPicture chart={chart!.id} step={step.id} version={bench.version} {...SMALL} now={here} />
      )}
    </Stop>
  )
}

/** What is told of a step beside its words. */
const told = (step: Step) =>
  [step.name && step.words, step.by && `by ${step.by}`, step.created_at && moment(step.created_at)].filter(Boolean).join(', ')

/** One step of the trail; without a way to walk there it is being kept. */
function Stop({
  step,
  words,
  here,
  first,
  follows,
  walk,
  hand,
  children,
}: {
  step?: Step
  words: string
  here: boolean
  first: boolean
  follows: boolean
  walk?: () => void
  hand?: TrailHand
  children: ReactNode
}) {
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (here) item.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [here])
  return (
    <li ref={item} className="group/step relative flex shrink-0 items-center">
      {!first && <Way dashed={!follows} />}
      <Large step={step} hand={hand}>
        <button
          type="button"
          aria-current={here ? 'step' : undefined}
          aria-description={step && told(step)}
          draggable={Boolean(step)}
          onDragStart={(e) => step && e.dataTransfer.setData(STEP_DRAGGED, String(step.id))}
          onClick={walk}
          style={{ width: STEP }}
          className={`overflow-hidden rounded-lg border bg-paper ${here ? 'border-copper ring-1 ring-copper' : 'border-line hover:border-copper'}`}
        >
          {children}
          <span className={`block truncate px-1.5 pb-1 text-xs ${here ? 'font-semibold' : 'text-muted'}`}>
            {step?.pinned && <span className="text-copper">● </span>}
            {words}
          </span>
        </button>
      </Large>
      {step && hand && <AtStep step={step} hand={hand} />}
      {step && hand && <NotesAtStep step={step} hand={hand} />}
      {step && hand?.bench.marks && <StepMenu step={step} hand={hand} />}
    </li>
  )
}

/** A step that is kept grows large where it is pointed at. */
function Large({ step, hand, children }: { step?: Step; hand?: TrailHand; children: ReactNode }) {
  if (!step || !hand) return children
  const { chart } = hand.bench.get()
  const said = [step.name || step.words, told(step)].filter(Boolean).join('\n')
  return (
    <Grown chart={chart!.id} step={step.id} version={hand.bench.version} told={said}>
      {children}
    </Grown>
  )
}

/** The discs of those who stand at a step, at its upper left corner. */
function AtStep({ step, hand }: { step: Step; hand: TrailHand }) {
  const here = hand.others.filter((h) => h.step_id === step.id).slice(0, 3)
  return here.length === 0 ? null : (
    <span className="absolute -top-2.5 left-3 z-1 flex -space-x-1.5">
      {here.map((h) => (
        <PersonDisc key={h.person_id} name={h.name} id={h.person_id} size="size-5 text-[9px]" />
      ))}
    </span>
  )
}

/** The notes on a step, at its lower right corner. */
function NotesAtStep({ step, hand: { notes } }: { step: Step; hand: TrailHand }) {
  const here = notes.notes.filter((n) => n.spot.kind === 'step' && n.spot.step === step.id && !n.resolved_at).slice(0, 3)
  return here.length === 0 ? null : (
    <span className="absolute right-0.5 -bottom-2.5 z-1 flex">
      {here.map((note) => (
        <button
          key={note.id}
          type="button"
          className="grid size-6 place-items-center rounded-full"
          aria-label={`Note ${notes.numbers.get(note.id)} on “${step.name || step.words}”`}
          title={note.text.slice(0, 200)}
          onClick={() => notes.show(notes.open?.id === note.id ? null : note)}
        >
          <Disc number={notes.numbers.get(note.id)} open={notes.open?.id === note.id} />
        </button>
      ))}
    </span>
  )
}

function StepMenu({ step, hand }: { step: Step; hand: TrailHand }) {
  const { bench } = hand
  const name = () => {
    const said = prompt('Name of this step', step.name ?? '')
    if (said !== null) void bench.mark(step, { name: said.trim().slice(0, 60) })
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`What can be done with “${step.name || step.words}”`}
        className="absolute -top-2 right-0.5 grid size-6 place-items-center rounded-full border border-line bg-paper text-xs text-muted opacity-0 group-hover/step:opacity-100 hover:border-copper hover:text-copper focus-visible:opacity-100 data-[state=open]:opacity-100"
      >
        ⋯
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content className={MENU} align="end">
          <DropdownMenu.Item className={ITEM} onSelect={name}>
            Name it…
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => void bench.mark(step, { pinned: !step.pinned })}>
            {step.pinned ? 'Take its pin away' : 'Pin it'}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => hand.notes.begin({ kind: 'step', step: step.id })}>
            Write a note on it…
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => void hand.compare(step.id)}>
            Lay it beside where you are
          </DropdownMenu.Item>
          {step.parent_id && (
            <DropdownMenu.Item className={ITEM} onSelect={() => hand.take(step)}>
              Take it out, with all that follows
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** The other branches, each below the step that it leaves from. */
function Others({ branches, places, hand }: { branches: Branch[]; places: Map<number, number>; hand: TrailHand }) {
  const [all, setAll] = useState(false)
  const lately = useMemo(() => latest(branches, MOST_BRANCHES), [branches])
  let free = 0
  const placed = (all ? branches : lately).map((branch) => {
    const from = places.get(branch.from)
    const left = Math.max(from === undefined ? free : from + GAP, free)
    const shown = branch.steps.length > MOST_SMALL ? [branch.steps[0], ...branch.steps.slice(1 - MOST_SMALL)] : branch.steps
    const wide = shown.some((s) => s.id === hand.fresh?.id) ? FRESH_STEP - SMALL_STEP : 0
    free = left + wide + shown.length * (SMALL_STEP + GAP) + (branch.steps.length > shown.length ? 40 : 0) + GAP
    return { branch, from, left, shown }
  })
  return (
    <>
      {placed.map(({ branch, from, left, shown }) => (
        <div key={branch.steps[0].id}>
          {from !== undefined && left - from < NEAR && (
            <svg aria-hidden className="pointer-events-none absolute top-4 left-0 overflow-visible" width={1} height={1}>
              <path
                d={`M${from} 39h6q4 0 4 6V${BELOW + 12}q0 8 8 8H${left}`}
                fill="none"
                stroke="var(--verdigris)"
                strokeOpacity={0.6}
                strokeWidth={1.2}
              />
            </svg>
          )}
          <ol aria-label="Another branch" className="absolute flex items-center" style={{ left, top: BELOW + 16 }}>
            {shown.map((step, i) => (
              <SmallStep key={step.id} step={step} first={i === 0} left={i === 1 ? branch.steps.length - shown.length : 0} hand={hand} />
            ))}
          </ol>
        </div>
      ))}
      {lately.length < branches.length && !all && (
        <button
          type="button"
          className={`${LINK} absolute text-xs whitespace-nowrap`}
          style={{ left: free, top: BELOW + 30 }}
          onClick={() => setAll(true)}
        >
          and {counted(branches.length - lately.length, 'branch', 'branches')} more
        </button>
      )}
    </>
  )
}

/** The branches to which something was added last, in the order in which they leave. */
function latest(branches: Branch[], most: number): Branch[] {
  if (branches.length <= most) return branches
  const ends = branches.map((b) => b.steps.at(-1)!.id).sort((a, b) => b - a)
  return branches.filter((b) => b.steps.at(-1)!.id >= ends[most - 1])
}

function SmallStep({ step, first, left, hand }: { step: Step; first: boolean; left: number; hand: TrailHand }) {
  const { chart } = useBench(hand.bench, 'chart')
  const words = step.name || step.words
  const fresh = hand.fresh?.id === step.id
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (fresh) item.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [fresh])
  return (
    <li ref={item} className="relative flex items-center">
      <AtStep step={step} hand={hand} />
      {!first && <Way />}
      {left > 0 && <span className="w-10 text-center text-xs text-muted">+{left}</span>}
      <Large step={step} hand={hand}>
        <button
          type="button"
          aria-description={told(step)}
          draggable
          onDragStart={(e) => e.dataTransfer.setData(STEP_DRAGGED, String(step.id))}
          onClick={() => void hand.bench.walkTo(step)}
          style={{ width: fresh ? FRESH_STEP : SMALL_STEP, borderColor: fresh ? personColour(step.person_id ?? 0) : undefined }}
          className="flex h-11 items-center gap-1.5 overflow-hidden rounded-lg border border-line bg-paper px-1.5 text-left hover:border-copper"
        >
          <span className="w-10 shrink-0">
            <ChartPicture chart={chart!.id} step={step.id} version={hand.bench.version} width={80} height={60} />
          </span>
          <span className="line-clamp-2 min-w-0 flex-1 text-xs leading-4 text-muted">
            {fresh ? (
              <>
                <strong className="text-ink">{words}</strong>
                <br />
                {step.by}, just now
              </>
            ) : (
              words
            )}
          </span>
        </button>
      </Large>
    </li>
  )
}
