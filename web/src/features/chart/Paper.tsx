import { Popover } from 'radix-ui'
import { memo, useCallback, useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api, type Drawing, type Me, type Refusal } from '../../api/client'
import { pointCount, scaleX, scaleY, type Figure, type Selection } from '../../figure/figure'
import { ChartView } from '../../interact/chartview'
import { hasMeasured } from '../../interact/slide'
import { whenThemeTurns } from '../../painter/theme'
import { lettersOf, styleOf } from '../../painter/axes'
import { buildKeys, putInside, replaceKeys, type Reorder } from '../../painter/keys'
import { formatNumber } from '../../scale/format'
import { singleKeys } from '../../ui/singleKeys'
import { pictureOf, saysSomething, type Bench } from '../../state/bench'
import { chooseRows, chosenRows, useChosenRows } from '../../state/chosen'
import { ChosenRows } from './ChosenRows'
import { limitsSaid, whereLine } from '../../sentence/lines'
import { andAlso, conditionOf, valueText } from '../../sentence/quoting'
import { NotePins, noteOnChosen } from '../notes/NotePins'
import type { ChartNotes } from '../notes/useChartNotes'
import { OwnColour } from './OwnColour'
import { SaveMenu } from './SaveMenu'
import { ValuesButton } from './Values'
import { useBench } from '../../state/useBench'
import { may } from '../../ui/may'
import { over } from '../../ui/over'
import { SampledMarks } from '../elsewhere/SampledMarks'
import type { LookedAt } from '../elsewhere/UnderDialog'
import { STEP_DRAGGED } from '../compare/sides'

/** The chart on its paper, with its keys and the count of rows below. */
export const Paper = memo(function Paper({
  bench,
  dataset,
  oneRow,
  onlyNames,
  open,
  compare,
  notes,
  me,
  under,
  above,
}: {
  bench: Bench
  dataset: number
  /** What one row is, where somebody said it. */
  oneRow: string
  /** Whether the table holds nothing but names, more of them than an axis has room for. */
  onlyNames: boolean
  open: (slot: string) => void
  /** Lays a step that is dropped here beside the chart. */
  compare: (step: number) => Promise<void>
  notes: ChartNotes
  me: Me
  /** Lists the rows of a part of the chart, where its table stays elsewhere. */
  under?: (part: LookedAt) => void
  /** What stands over the chart. */
  above?: ReactNode
}) {
  const state = useBench(bench, 'document', 'drawing', 'preview', 'lit', 'drawingNow', 'refusal')
  const host = useRef<HTMLDivElement>(null)
  const chart = useRef<ChartView | null>(null)
  const { view: viewOfNotes, painted } = notes
  const openRef = useRef(open)
  openRef.current = open
  const underRef = useRef(under)
  underRef.current = under
  const lists = Boolean(under)
  const [isolated, setIsolated] = useState<Selection | null>(null)
  const [pressed, setPressed] = useState<{ axis: 'x' | 'y'; group: string } | null>(null)
  const chosen = useChosenRows(bench.version)
  const choose = useCallback((rows: number[]) => chooseRows(bench.version, rows), [bench])
  const drawing = pictureOf(state)
  useEffect(() => setPressed(null), [state.document])
  useEffect(() => chart.current?.light(chosen ? { rows: chosen } : null), [chosen])

  useLayoutEffect(() => {
    const axisFrom = (axis: 'x' | 'y', from: number, to: number) => {
      const { drawing } = bench.get()
      const dates = drawing && (axis === 'x' ? scaleX : scaleY)(drawing.figure).kind === 'date'
      return `${axis} ${limitsSaid(from, to, Boolean(dates))}`
    }
    const view = new ChartView(host.current!, {
      onIsolate: setIsolated,
      onPressWord: (slot) => openRef.current(slot),
      onPressGroup: (axis, group) => setPressed({ axis, group }),
      onPressRow: (row) => {
        const now = chosenRows(bench.version) ?? []
        choose(now.includes(row) ? now.filter((r) => r !== row) : [...now, row])
      },
      onChoose: choose,
      onKeepView: (kept) => {
        const say = (['x', 'y'] as const).flatMap((axis) => (kept[axis] ? [axisFrom(axis, ...kept[axis])] : []))
        void bench.amend({ say })
      },
      onRowsHere: lists ? (part) => underRef.current?.({ document: bench.get().drawing!.document, part }) : undefined,
      onDragAxis: (axis, from, to) => void bench.amend({ say: [axisFrom(axis, from, to)] }),
      rowValues: (row) => {
        // a choice that is tried has a card of its own
        const columns = pictureOf(bench.get())?.figure.card.columns.map((c) => c.column) ?? []
        return api.row(bench.version, row, columns)
      },
      onDeep: () => bench.lookClosely(),
      singleKeys,
      onPainted: painted.tell,
    })
    chart.current = viewOfNotes.current = view
    const paint = ({ figure, reading }: Drawing) =>
      view.show(figure, reading.paragraphs.map((p) => p.spans.map((s) => s.text).join('')).join(' '))
    bench.paint = paint
    const shown = pictureOf(bench.get())
    if (shown) paint(shown)
    const measure = () => bench.resize(host.current!.clientWidth, host.current!.clientHeight)
    const watch = new ResizeObserver(measure)
    watch.observe(host.current!)
    measure()
    return () => {
      watch.disconnect()
      bench.paint = null
      viewOfNotes.current = null
      view.destroy()
    }
  }, [bench, choose, painted, viewOfNotes, lists])

  useEffect(() => chart.current?.light(state.lit), [state.lit])
  const isolate = useCallback((selection: Selection | null) => chart.current?.isolate(selection), [])
  const reorder = useCallback((names: string[]) => void bench.amend({ say: [`key in order ${names.map(valueText).join(', ')}`] }), [bench])
  const { document } = state
  const keysAt = drawing?.figure.manner?.key
  const paper = drawing?.figure.manner?.paper
  const keys = drawing && keysAt !== 'off' && (
    <Keys figure={drawing.figure} isolated={isolated} isolate={isolate} reorder={reorder} open={open} at={keysAt} />
  )
  const taken = drawing && document.rows?.take_out && hasMeasured(drawing.figure) ? document.rows?.take_out : null
  return (
    <section
      aria-label="Chart"
      tabIndex={-1}
      onDragOver={(e) => e.dataTransfer.types.includes(STEP_DRAGGED) && e.preventDefault()}
      onDrop={(e) => {
        const step = Number(e.dataTransfer.getData(STEP_DRAGGED))
        if (step) void compare(step)
      }}
      className="flex outline-none min-w-0 flex-1 flex-col gap-1.5 px-4.5 slim:flex-none slim:px-2 pt-3 pb-2 max-[1100px]:gap-1 max-[1100px]:pt-2 max-[1100px]:pb-1.5"
    >
      {above}
      {keysAt === 'top' && <div className="px-1 pb-1">{keys}</div>}
      <div className="flex min-h-0 flex-1 items-start gap-4 slim:h-[max(70vw,250px)] slim:flex-none">
        <div className="[container-type:size] h-full min-w-0 flex-1">
          <div
            className={`relative overflow-hidden rounded-xl border border-line bg-paper ${paper ? '' : 'h-full'}`}
            style={
              paper && {
                aspectRatio: `${paper.width} / ${paper.height}`,
                width: `min(${paper.width}px, 100cqw, ${paper.width / paper.height} * 100cqh)`,
              }
            }
          >
            {drawing && taken && (
              <TakenOut
                key={document.rows?.take_out}
                figure={drawing.figure}
                name={taken}
                move={(share) => chart.current?.moveTo(share)}
                back={() => void bench.amend({ drop: ['take out'] })}
              />
            )}
            <div className={`absolute inset-x-0 bottom-0 ${taken ? 'top-9' : 'top-0'}`}>
              <div ref={host} className="h-full" data-testid="chart" />
              {keysAt === 'inside' && keys}
              {drawing && <NotePins hand={notes} bench={bench} me={me} />}
            </div>
            {drawing && chosen && chosen.length > 0 && (
              <ChosenRows
                rows={chosen}
                figure={drawing.figure}
                bench={bench}
                done={() => choose([])}
                note={may(me, 'maker') ? noteOnChosen(notes, bench.version) : undefined}
              />
            )}
            {!drawing && (
              <p className="absolute inset-0 grid place-items-center font-serif text-lg text-muted">
                {onlyNames && !saysSomething(document.x) && !saysSomething(document.y) ? (
                  <span className="max-w-md text-center">
                    This table holds names alone, too many different ones for an axis. In{' '}
                    <Link className="link" to={`/dataset/${dataset}/data`}>
                      Data
                    </Link>{' '}
                    they can be counted, gathered under fewer names, or cut apart.
                  </span>
                ) : (
                  waitingFor(saysSomething(document.x), saysSomething(document.y), state.refusal)
                )}
              </p>
            )}
            {state.drawingNow && (
              <span role="status" aria-label="Drawing" className="absolute top-0 left-0 h-0.5 w-full animate-pulse bg-copper" />
            )}
          </div>
        </div>
        {keysAt === 'right' && <div className="max-h-full max-w-52 shrink-0 overflow-auto pt-2">{keys}</div>}
      </div>
      {drawing?.figure.note && (
        <button
          type="button"
          className="rounded px-1 text-left font-serif text-[15px] whitespace-pre-line wrap-anywhere hover:bg-copper-wash"
          title="Change the note"
          style={drawing.figure.manner?.letters ? styleOf(lettersOf(drawing.figure, 'note', 15)) : undefined}
          onClick={() => open('note')}
        >
          {drawing.figure.note}
        </button>
      )}
      {!keysAt && keys && <div className="flex px-1">{keys}</div>}
      <div className="flex min-h-5 items-end gap-x-5 px-1 slim:flex-wrap slim:gap-y-1">
        {drawing && pressed && <OnlyGroup {...pressed} bench={bench} />}
        {drawing && isolated && (
          <OnlyThese figure={drawing.figure} selection={isolated} bench={bench} done={() => chart.current?.isolate(null)} />
        )}
        {drawing && isolated && <OwnColour figure={drawing.figure} selection={isolated} dataset={dataset} bench={bench} />}
        {drawing?.figure.manner?.shaded && <Shaded bench={bench} />}
        {drawing && <SampledMarks drawing={drawing} bench={bench} />}
        {drawing && <Crowded figure={drawing.figure} bench={bench} />}
        {drawing && <ValuesButton figure={drawing.figure} />}
        {drawing && <RowCount figure={drawing.figure} oneRow={oneRow} what={document.function ? 'values' : 'rows'} />}
        {drawing && <SaveMenu bench={bench} />}
      </div>
    </section>
  )
})

function waitingFor(x: boolean, y: boolean, refusal: Refusal | null): string {
  if (!x && !y) return 'Say what to plot: press the words after Plot and against.'
  if (!y) return 'Say what to plot along the vertical axis: press the word after Plot.'
  if (!x) return 'Say what to plot it against: press the word after against.'
  if (!refusal) return 'Drawing…'
  return refusal.passing
    ? 'The chart is not drawn; the reason stands above.'
    : 'The chart cannot be drawn as it is said; the reason stands above.'
}

/** While a column is taken out: walks the rows back to where they were measured, by hand. */
function TakenOut({ figure, name, move, back }: { figure: Figure; name: string; move: (share: number) => void; back: () => void }) {
  const [share, setShare] = useState(100)
  useEffect(() => setShare(100), [figure])
  const readable = name.replaceAll('_', ' ')
  return (
    <div className="absolute inset-x-4.5 top-2 z-1 flex items-center gap-3 text-[13px]">
      <span className="flex items-center gap-1.5 text-muted">
        <svg width={10} height={10} aria-hidden>
          <circle cx={5} cy={5} r={4} fill="none" stroke="var(--muted)" strokeWidth={1.4} />
        </svg>
        as measured
      </span>
      <input
        type="range"
        min={0}
        max={100}
        value={share}
        className="w-36 accent-verdigris"
        aria-label={`From as measured to ${readable} taken out`}
        aria-valuetext={`${share} % of the way`}
        onChange={(e) => {
          setShare(Number(e.target.value))
          move(Number(e.target.value) / 100)
        }}
      />
      <span className="flex items-center gap-1.5 font-semibold">
        <svg width={10} height={10} aria-hidden>
          <circle cx={5} cy={5} r={4.5} fill="var(--ink)" />
        </svg>
        {readable} taken out
      </span>
      <button type="button" className="link ml-auto" onClick={back}>
        put it back
      </button>
    </div>
  )
}

function Keys({
  figure,
  isolated,
  isolate,
  reorder,
  open,
  at,
}: {
  figure: Figure
  isolated: Selection | null
  isolate: (selection: Selection | null) => void
  reorder: Reorder
  open: (channel: string) => void
  at?: string
}) {
  const box = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const fill = () => {
      if (box.current) replaceKeys(box.current, buildKeys(figure, isolated, isolate, reorder, open))
      if (box.current && at === 'inside') putInside(box.current, figure)
    }
    fill()
    return whenThemeTurns(fill)
  }, [figure, isolated, isolate, reorder, open, at])
  return (
    <div
      ref={box}
      className={
        at === 'inside' ? 'keys-inside' : at === 'right' ? 'keys-beside' : 'flex min-w-0 flex-1 flex-wrap items-center gap-x-6 gap-y-1'
      }
    />
  )
}

/** Takes the rows of a group that was pressed on the chart, or leaves them out. */
function OnlyGroup({ axis, group, bench }: { axis: 'x' | 'y'; group: string; bench: Bench }) {
  const { document, drawing } = useBench(bench, 'document', 'drawing')
  const column = document[axis].column
  if (!column || !drawing) return null
  const scale = (axis === 'x' ? scaleX : scaleY)(drawing.figure)
  const only = conditionOf(column, [scale.exact?.[group] ?? group], scale.column_kind)
  const and = (condition: string) => void bench.amend({ say: whereLine(andAlso(document.rows?.where, condition)) })
  return (
    <span className="flex shrink-0 gap-3 text-[13px]">
      <button type="button" className="link" onClick={() => and(only)}>
        Only {group}
      </button>
      <button type="button" className="link" onClick={() => and(`not (${only})`)}>
        Without {group}
      </button>
    </span>
  )
}

/** Makes a condition of the chart out of what is looked at alone. */
function OnlyThese({ figure, selection, bench, done }: { figure: Figure; selection: Selection; bench: Bench; done: () => void }) {
  const key = figure.keys[selection.key - 1]
  const entries = selection.entries.map((i) => key?.entries?.[i])
  if (!key?.column || entries.some((e) => !e || e.rest)) return null // no value of the column, or of a figure before this one
  const names = entries.map((e) => e!.name)
  const say = async (without: boolean) => {
    const { document } = bench.get()
    const these = conditionOf(
      key.column,
      names.map((name) => key.exact?.[name] ?? name),
      key.kind,
    )
    const where = without ? `not (${these})` : these
    if (await bench.amend({ say: whereLine(andAlso(document.rows?.where, where)) })) done()
  }
  return (
    <span className="flex shrink-0 gap-3 text-[13px]">
      <button
        type="button"
        className="link"
        title={`Of rows where ${key.name} is ${names.join(' or ')}: axes, bins, fits and the reading follow`}
        onClick={() => void say(false)}
      >
        Only these
      </button>
      <button
        type="button"
        className="link"
        title={`Of rows where ${key.name} is not ${names.join(' or ')}: axes, bins, fits and the reading follow`}
        onClick={() => void say(true)}
      >
        Without these
      </button>
    </span>
  )
}

/** How many dots a chart may have before they are said to hide each other, for every 1,000 square pixels. */
const CROWDED = 25

/** Offers cells where dots hide each other; never imposes them. */
function Crowded({ figure, bench }: { figure: Figure; bench: Bench }) {
  const { document } = useBench(bench, 'document')
  const dots = figure.layers.filter((l) => l.primitive === 'points' && l.rows).reduce((sum, l) => sum + l.count, 0)
  const room = figure.panels.reduce((sum, p) => sum + p.box.width * p.box.height, 0) / 1000
  if (dots < CROWDED * room || document.colour?.column || document.size?.column || document.shape?.column) return null
  return (
    <button
      type="button"
      className="link shrink-0 pb-0.5 text-[13px]"
      title="Dots hide each other here; hexagons count them"
      onClick={() => void bench.amend({ say: ['as hexagons'] })}
    >
      Count in hexagons
    </button>
  )
}

/** Says that crowded dots are shaded, and gives it up. */
function Shaded({ bench }: { bench: Bench }) {
  return (
    <p
      className="shrink-0 pb-0.5 text-[13px] text-muted"
      title="Where dots hide each other, shade tells how many there are: deeper is more"
    >
      deeper where more dots lie ·{' '}
      <button type="button" className="link" onClick={() => void bench.amend({ say: ['overlap off'] })}>
        plain
      </button>
    </p>
  )
}

function RowCount({ figure, oneRow, what }: { figure: Figure; oneRow: string; what: string }) {
  const { total, drawn, left_out: leftOut, outside, unlabelled = 0 } = figure.rows
  const away = total - drawn
  return (
    <p className="ml-auto min-w-0 pb-0.5 text-right text-[13px] text-muted tabular-nums slim:ml-0 slim:w-full slim:max-w-none slim:text-left">
      {oneRow && `${pointCount(figure) > 0 ? 'Each dot is' : 'Each row is'} ${oneRow} · `}
      {formatNumber(drawn, 0)} of {formatNumber(total, 0)} {what} drawn
      {away > 0 && (
        <>
          {' · '}
          <Popover.Root>
            <Popover.Trigger className="underline underline-offset-3 hover:text-copper">{formatNumber(away, 0)} left out</Popover.Trigger>
            <Popover.Portal container={over()}>
              <Popover.Content
                aria-label="Left out"
                side="top"
                align="end"
                sideOffset={6}
                className="z-20 max-w-sm rounded-xl border border-line bg-strip p-4 text-ink shadow-xl"
              >
                <h3 className="mb-2 font-serif font-semibold">Left out</h3>
                <ul className="flex flex-col gap-1 text-[13px]">
                  {leftOut.map((reason) => (
                    <li key={reason.reason} className="flex justify-between gap-6">
                      <span>{reason.reason}</span>
                      <span className="tabular-nums">{formatNumber(reason.count, 0)}</span>
                    </li>
                  ))}
                </ul>
                <p className="mt-2 text-[13px] text-muted">A row counts under the first reason that applies.</p>
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        </>
      )}
      {outside > 0 && ` · ${formatNumber(outside, 0)} outside the limits`}
      {unlabelled > 0 && ` · no room for ${formatNumber(unlabelled, 0)} ${unlabelled === 1 ? 'label' : 'labels'}`}
    </p>
  )
}
