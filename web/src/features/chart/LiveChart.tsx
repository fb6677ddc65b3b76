import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { api, Refusal, type PageDrawing } from '../../api/client'
import type { Figure, Shown } from '../../figure/figure'
import { ChartView } from '../../interact/chartview'
import type { Linked } from '../../interact/linked'
import { buildKeys, replaceKeys } from '../../painter/keys'
import { whenThemeTurns } from '../../painter/theme'
import { singleKeys } from '../../ui/singleKeys'
import { Trouble } from '../../ui/Words'

/** How often a chart that is followed is looked at again, in milliseconds. */
const LOOK_EVERY = 10_000

/** Charts of one version under one hand. */
export type LinkedBy = (version: number) => Linked

/** What is drawn: asked by its name, again now and then where it is followed. */
export interface Ask {
  name: string
  followed: boolean
  draw: (size: { width: number; height: number }, signal: AbortSignal) => Promise<PageDrawing>
}

/** A chart that is alive but not worked on: laid out for the room that it has. */
export function LiveChart({
  ask,
  height,
  lit,
  linked,
  fitted,
  onDrawn,
}: {
  ask: Ask
  height: number
  lit: Shown | null
  linked: LinkedBy
  /** The figure as it stands beside others. */
  fitted?: (figure: Figure) => Figure
  onDrawn: (drawing: PageDrawing | null) => void
}) {
  const host = useRef<HTMLDivElement>(null)
  const keys = useRef<HTMLDivElement>(null)
  const view = useRef<ChartView | null>(null)
  const [drawing, setDrawing] = useState<PageDrawing | null>(null)
  const [refusal, setRefusal] = useState<Refusal | null>(null)
  const [width, setWidth] = useState(0)
  const tell = useRef(onDrawn)
  useEffect(() => {
    tell.current = onDrawn
  })

  useLayoutEffect(() => {
    const watch = new ResizeObserver(() => setWidth(Math.round(host.current!.clientWidth)))
    watch.observe(host.current!)
    return () => watch.disconnect()
  }, [])

  const asked = useRef(ask)
  useEffect(() => {
    asked.current = ask
  })
  const { name, followed } = ask
  useEffect(() => {
    if (!width) return
    const stop = new AbortController()
    let last = ''
    const look = async () => {
      try {
        const next = await asked.current.draw({ width, height }, stop.signal)
        setRefusal(null)
        const now = `${next.chart.head_step_id} ${next.chart.version_id} ${next.typed}`
        if (now === last) return
        last = now
        setDrawing(next)
        tell.current(next)
      } catch (fault) {
        if (stop.signal.aborted || (fault instanceof Refusal && fault.passing && last)) return
        setRefusal(fault as Refusal)
        tell.current(null)
      }
    }
    void look()
    const timer = followed ? setInterval(() => void look(), LOOK_EVERY) : 0
    return () => {
      stop.abort()
      clearInterval(timer)
    }
  }, [name, followed, width, height])

  const version = drawing?.chart.version_id
  useLayoutEffect(() => {
    if (!version) return
    const together = linked(version)
    const columns = () => current.current?.figure.card.columns.map((c) => c.column) ?? []
    const chart: ChartView = new ChartView(host.current!, {
      rowValues: (row) => api.row(version, row, columns()),
      onIsolate: (selection) => {
        redraw()
        together.alone(chart, selection)
      },
      onRow: (row) => together.row(chart, row),
      onChoose: (rows) => together.chosen(chart, rows),
      singleKeys,
    })
    const redraw = () => {
      const figure = current.current?.figure
      if (keys.current && figure)
        replaceKeys(
          keys.current,
          buildKeys(figure, chart.isolated, (s) => chart.isolate(s)),
        )
    }
    redrawn.current = redraw
    view.current = chart
    const leave = together.add({ chart, figure: () => current.current?.figure ?? null })
    const turned = whenThemeTurns(redraw)
    return () => {
      turned()
      leave()
      chart.destroy()
      view.current = null
    }
  }, [version, linked])
  const current = useRef<PageDrawing | null>(null)
  const redrawn = useRef<() => void>(() => {})
  const figure = useFigure(drawing, fitted)
  useLayoutEffect(() => {
    current.current = drawing
    if (!drawing || !figure) return
    view.current?.show(figure, drawing.reading.paragraphs.map((p) => p.spans.map((s) => s.text).join('')).join(' '))
    redrawn.current()
  }, [drawing, figure, version])
  useEffect(() => view.current?.light(lit), [lit])

  return (
    <div className="min-w-0">
      {refusal && <Trouble message={`This chart cannot be shown: ${refusal.message}`} advice={refusal.advice} />}
      <div ref={host} style={{ height: refusal ? 0 : height }} className="overflow-hidden" />
      <div ref={keys} className="keys mt-1 flex flex-wrap gap-x-5 gap-y-1 text-[13px]" hidden={drawing?.figure.manner?.key === 'off'} />
      {drawing?.figure.note && <p className="mt-1 font-serif text-[13px] whitespace-pre-line text-muted">{drawing.figure.note}</p>}
    </div>
  )
}

/** The figure as it stands beside others; the same one while its places are. */
function useFigure(drawing: PageDrawing | null, fitted?: (figure: Figure) => Figure): Figure | null {
  const held = useRef<{ of: Figure; boxes: string; figure: Figure } | null>(null)
  if (!drawing) return null
  const figure = fitted?.(drawing.figure) ?? drawing.figure
  const boxes = JSON.stringify(figure.panels.map((p) => p.box))
  if (held.current?.of !== drawing.figure || held.current.boxes !== boxes) held.current = { of: drawing.figure, boxes, figure }
  return held.current.figure
}
