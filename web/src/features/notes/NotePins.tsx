import { useCallback, useEffect, useLayoutEffect, useRef, useState, useSyncExternalStore, type PointerEvent, type ReactNode } from 'react'
import type { Me, Note } from '../../api/client'
import type { Figure } from '../../figure/figure'
import { anchorsOf, badgesOf, freeCorner, spotAt, type Anchor, type Standing } from '../../interact/noted'
import { hitAt } from '../../interact/hit'
import { chosenRows, useChosenRows } from '../../state/chosen'
import type { Bench } from '../../state/bench'
import { counted } from '../../scale/format'
import { NoteField } from './NoteField'
import { onWhat } from './onWhat'
import { Disc, Thread } from './Thread'
import { choice } from './Threads'
import type { ChartNotes } from './useChartNotes'

/** How many notes stand on a chart at once, and to how many of its dots a note is tied by lines. */
const MOST_PINS = 60
const MOST_TIES = 12
const MOST_RINGS = 300
/** How wide the card of a note is. */
const CARD = 361
/** How far from a mark a press still means it. */
const REACH = 18

interface Pin {
  note: Note
  anchors: Anchor[]
  badge: { x: number; y: number }
}

function pinsOf(standing: Standing | null, hand: ChartNotes): Pin[] {
  if (!standing) return []
  const found = hand.notes
    .filter((note) => !note.resolved_at || note.id === hand.open?.id)
    .map((note) => ({ note, anchors: anchorsOf(standing, note.spot, note.now ?? []) }))
    .filter(({ anchors }) => anchors.length > 0)
    .slice(0, MOST_PINS)
  const offsets = offsetsOf(standing, found)
  return found.map((f) => {
    const [x, y] = middle(f.anchors)
    const [dx, dy] = offsets.get(f.note.id)!
    return { ...f, badge: { x: within(x + dx, standing.size.width), y: within(y + dy, standing.size.height) } }
  })
}

/** A place that keeps off the edges of the paper. */
const within = (at: number, size: number) => Math.max(14, Math.min(size - 14, at))

const middle = (anchors: Anchor[]): [number, number] => [
  anchors.reduce((sum, a) => sum + a.x, 0) / anchors.length,
  anchors.reduce((sum, a) => sum + a.y, 0) / anchors.length,
]

/** How far each badge stands from the middle of what it is on, found once for a figure: while one zooms, it goes along. */
const known = new WeakMap<Figure, Map<number, [number, number]>>()

function offsetsOf(standing: Standing, notes: Omit<Pin, 'badge'>[]): Map<number, [number, number]> {
  const held = known.get(standing.figure)
  if (held && notes.every((n) => held.has(n.note.id))) return held
  const badges = badgesOf(
    standing,
    notes.map((n) => n.anchors),
  )
  const offsets = new Map(
    notes.map((n, i): [number, [number, number]] => {
      const [x, y] = middle(n.anchors)
      return [n.note.id, [badges[i].x - x, badges[i].y - y]]
    }),
  )
  known.set(standing.figure, offsets)
  return offsets
}

/** Notes where they stand on the chart, with the card of the one that is open or being written. */
export function NotePins({ hand, bench, me }: { hand: ChartNotes; bench: Bench; me: Me }) {
  const { painted, view, open, draft, placing } = hand
  useSyncExternalStore(painted.listen, painted.count)
  const standing = view.current?.standing() ?? null
  const pins = pinsOf(standing, hand)
  const drafted = standing && draft ? anchorsOf(standing, draft, draft.rows ?? []) : []
  return (
    <div className="pointer-events-none absolute inset-0 z-2" data-notes={pins.length}>
      <svg aria-hidden className="absolute inset-0 size-full overflow-hidden">
        {pins.map((pin) => (
          <Ties key={pin.note.id} {...pin} open={pin.note.id === open?.id} />
        ))}
        {drafted.slice(0, MOST_RINGS).map((a, i) => (
          <Ring key={i} {...a} />
        ))}
      </svg>
      {pins.map(({ note, badge }) => (
        <button
          key={note.id}
          type="button"
          className="pointer-events-auto absolute grid size-6 -translate-1/2 place-items-center rounded-full"
          style={{ left: badge.x, top: badge.y }}
          aria-expanded={note.id === open?.id}
          aria-label={`Note ${hand.numbers.get(note.id) ?? ''} on ${onWhat(note, hand.known)}, by ${note.by}`}
          title={note.text.slice(0, 200)}
          onClick={() => hand.show(note.id === open?.id ? null : note)}
        >
          <Disc number={hand.numbers.get(note.id)} open={note.id === open?.id} />
        </button>
      ))}
      {placing && standing && <Placing standing={standing} hand={hand} bench={bench} />}
      {(open || (draft && !placing)) && standing && (
        <Card
          standing={standing}
          label={open ? 'A note' : 'A new note'}
          about={open ? pins.flatMap((p) => (p.note.id === open.id ? [...p.anchors, { ...p.badge, radius: 0 }] : [])) : drafted}
        >
          {open ? (
            <OpenNote note={open} hand={hand} bench={bench} me={me} placed={pins.some((p) => p.note.id === open.id)} />
          ) : (
            <NewNote hand={hand} bench={bench} />
          )}
        </Card>
      )}
    </div>
  )
}

const Ring = ({ x, y, radius }: Anchor) => (
  <>
    <circle cx={x} cy={y} r={Math.max(8, radius + 3)} fill="none" stroke="var(--paper)" strokeWidth={4.5} />
    <circle cx={x} cy={y} r={Math.max(8, radius + 3)} fill="none" stroke="var(--copper)" strokeWidth={2} />
  </>
)

function Ties({ anchors, badge, open }: Pin & { open: boolean }) {
  const tied = anchors.length <= MOST_TIES ? anchors : anchors.slice(0, 1)
  return (
    <g>
      {tied.map((a, i) => (
        <line key={i} x1={badge.x} y1={badge.y} x2={a.x} y2={a.y} stroke="var(--copper)" strokeWidth={1.2} />
      ))}
      {(open ? anchors : anchors.slice(0, MOST_TIES)).slice(0, MOST_RINGS).map((a, i) => (
        <Ring key={i} {...a} />
      ))}
    </g>
  )
}

/** A card over the chart, in the corner where it hides the fewest marks; it stays there until another is opened. */
function Card({ standing, label, about, children }: { standing: Standing; label: string; about: Anchor[]; children: ReactNode }) {
  const box = useRef<HTMLElement>(null)
  const [place, setPlace] = useState<{ left: number; top: number } | null>(null)
  const now = useRef({ standing, about })
  useLayoutEffect(() => {
    now.current = { standing, about }
  })
  const width = Math.min(CARD, standing.size.width - 16)
  const where = about.map((a) => `${a.x} ${a.y}`).join()
  useLayoutEffect(() => {
    const fit = () => setPlace(freeCorner(now.current.standing, width, box.current!.offsetHeight, now.current.about))
    fit()
    const watch = new ResizeObserver(fit)
    watch.observe(box.current!)
    return () => watch.disconnect()
  }, [width, where])
  return (
    <section
      ref={box}
      aria-label={label}
      data-note-card
      className="pointer-events-auto absolute outline-none max-h-[calc(100%-16px)] overflow-auto rounded-[10px] border-[1.5px] border-copper bg-paper p-3 shadow-[0_8px_22px_rgb(0_0_0/0.16)]"
      style={{ width, left: place?.left ?? 8, top: place?.top ?? 8 }}
    >
      {children}
    </section>
  )
}

function OpenNote({ note, hand, bench, me, placed }: { note: Note; hand: ChartNotes; bench: Bench; me: Me; placed: boolean }) {
  const fold = useCallback(() => hand.show(null), [hand])
  const { steps, at } = bench.get()
  const step = note.spot.kind === 'step' && note.spot.step !== at ? steps.find((s) => s.id === note.spot.step) : undefined
  return (
    <div onKeyDown={(e) => e.key === 'Escape' && fold()}>
      <Thread
        note={note}
        number={hand.numbers.get(note.id)}
        what={onWhat(note, hand.known)}
        hand={hand}
        me={me}
        fold={fold}
        go={step && { says: 'go to that step', to: () => void bench.walkTo(step) }}
      />
      {!placed && ELSEWHERE[note.spot.kind] && !note.lost && (note.now?.length ?? 1) > 0 && (
        <p className="mt-2 text-[13px] text-muted">{ELSEWHERE[note.spot.kind]}</p>
      )}
    </div>
  )
}

/** Why a note does not stand on the chart, where it could. */
const ELSEWHERE: Partial<Record<Note['spot']['kind'], string>> = {
  rows: 'Its rows are not drawn here now.',
  mark: 'The chart as it is now does not show that place.',
  place: 'The chart as it is now does not show that place.',
}

/** Writes a note: what it is on is said above it, and can be said otherwise. */
function NewNote({ hand, bench }: { hand: ChartNotes; bench: Bench }) {
  const draft = hand.draft!
  const { at } = bench.get()
  const rows = useChosenRows(bench.version)
  const first = useRef(draft)
  const ways = [
    ...(first.current.kind === 'whole'
      ? []
      : [{ says: onWhat({ spot: first.current, now: first.current.rows }, hand.known), spot: first.current }]),
    ...(rows && first.current.kind !== 'rows'
      ? [
          {
            says: `${counted(rows.length, 'row')} chosen`,
            spot: { kind: 'rows' as const, version_id: bench.version, rows: rows.map((r) => r + 1) },
          },
        ]
      : []),
    { says: 'the chart', spot: { kind: 'whole' as const } },
    ...(at && first.current.kind !== 'step' ? [{ says: 'this step', spot: { kind: 'step' as const, step: at } }] : []),
  ]
  return (
    <div className="flex flex-col gap-2">
      <div role="radiogroup" aria-label="What the note is on" className="flex flex-wrap items-center gap-1.5 text-[13px]">
        <span className="text-muted">A note on</span>
        {ways.map(({ says, spot }) => (
          <button
            key={says}
            type="button"
            role="radio"
            aria-checked={JSON.stringify(spot) === JSON.stringify(draft)}
            className={`${choice(JSON.stringify(spot) === JSON.stringify(draft))} max-w-56 truncate`}
            onClick={() => hand.begin(spot)}
          >
            {says}
          </button>
        ))}
        <button type="button" className={choice(false)} onClick={() => hand.setPlacing(true)}>
          a place…
        </button>
      </div>
      <NoteField label="A new note" action="Keep" keep={hand.keep} leave={hand.leave} />
    </div>
  )
}

/** Over the chart while the next press says what a note is on. */
function Placing({ standing, hand, bench }: { standing: Standing; hand: ChartNotes; bench: Bench }) {
  const cover = useRef<HTMLButtonElement>(null)
  useEffect(() => cover.current?.focus(), [])
  const press = (e: PointerEvent) => {
    const box = cover.current!.getBoundingClientRect()
    const [x, y] = [e.clientX - box.left, e.clientY - box.top]
    const hit = hitAt(standing.figure, standing.frames, standing.selection, x, y, REACH)
    const spot = spotAt({ ...standing, hit }, bench.version, x, y)
    if (spot) hand.begin(spot)
  }
  return (
    <>
      <button
        ref={cover}
        type="button"
        aria-label="Press what the note is on; Escape leaves"
        className="pointer-events-auto absolute inset-0 cursor-crosshair rounded-xl border-2 border-copper"
        onPointerDown={press}
        onKeyDown={(e) => {
          if (e.key !== 'Escape') return
          e.stopPropagation()
          hand.setPlacing(false)
        }}
      />
      <p role="status" className="absolute top-2 left-1/2 -translate-x-1/2 rounded-full border border-line bg-strip px-4 py-1 text-[13px]">
        Press a dot, a mark, or a place; Escape leaves
      </p>
    </>
  )
}

/** What a press beside the chosen rows begins. */
export const noteOnChosen = (hand: ChartNotes, version: number) => () =>
  hand.begin({ kind: 'rows', version_id: version, rows: (chosenRows(version) ?? []).map((row) => row + 1) })
