import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { Refusal, type Note, type NoteSpot } from '../../api/client'
import type { ChartView } from '../../interact/chartview'
import { groupOf, spotAt } from '../../interact/noted'
import type { Bench } from '../../state/bench'
import { chosenRows } from '../../state/chosen'
import { useBench } from '../../state/useBench'
import { takesSingleKeys } from '../../ui/singleKeys'
import type { Known } from './onWhat'
import { numbered, useNotes, type NotesHand } from './useNotes'

/** Notes on the chart that is open: what is read, what is being written, and where these stand on it. */
export interface ChartNotes extends NotesHand {
  numbers: Map<number, number>
  known: Known
  /** The note whose card is open. */
  open: Note | null
  show: (note: Note | null) => void
  /** What a note is being written on; null: none is. */
  draft: NoteSpot | null
  /** Begins a note: on the rows that are chosen, on what is pointed at, or on the chart. */
  begin: (spot?: NoteSpot) => void
  leave: () => void
  /** The next press on the chart says what the note is on. */
  placing: boolean
  setPlacing: (on: boolean) => void
  /** Keeps the note that is being written. */
  keep: (text: string) => Promise<void>
  /** The chart as it is painted, and who is told when it is. */
  view: { current: ChartView | null }
  painted: { tell: () => void; listen: (hear: () => void) => () => void; count: () => number }
}

function makePainted(): ChartNotes['painted'] {
  const heard = new Set<() => void>()
  let count = 0
  return {
    tell: () => {
      count++
      for (const hear of heard) hear()
    },
    listen: (hear) => {
      heard.add(hear)
      return () => void heard.delete(hear)
    },
    count: () => count,
  }
}

export function useChartNotes(bench: Bench, makes: boolean): ChartNotes {
  const { chart, steps, at } = useBench(bench, 'chart', 'steps', 'at')
  const hand = useNotes(
    useMemo(() => ({ chart_id: chart?.id ?? 0 }), [chart?.id]),
    bench.version,
  )
  const view = useRef<ChartView | null>(null)
  const painted = useMemo(makePainted, [])
  const [shown, setShown] = useState(0)
  const [draft, setDraft] = useState<NoteSpot | null>(null)
  const [placing, setPlacing] = useState(false)
  const { notes, see } = hand
  const open = notes.find((n) => n.id === shown) ?? null
  const show = useCallback((note: Note | null) => {
    setShown(note?.id ?? 0)
    if (note) setDraft(null)
  }, [])
  useEffect(() => {
    if (open) see(open)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, where it is opened
  }, [open?.id, open?.fresh])
  const begin = useCallback(
    (spot?: NoteSpot) => {
      const rows = chosenRows(bench.version)
      const standing = view.current?.standing()
      const pointed = standing?.hit ? spotAt(standing, bench.version, standing.hit.x, standing.hit.y) : null
      const chosen: NoteSpot | null = rows ? { kind: 'rows', version_id: bench.version, rows: rows.map((row) => row + 1) } : null
      view.current?.leave()
      setShown(0)
      setDraft(spot ?? chosen ?? pointed ?? { kind: 'whole' })
      setPlacing(false)
    },
    [bench],
  )
  const leave = useCallback(() => {
    setDraft(null)
    setPlacing(false)
  }, [])
  useNoteKey(makes, begin)
  useNoteOfAddress(notes, show)
  const known: Known = useMemo(
    () => ({
      step: (id) => steps.filter((s) => s.id === id).map((s) => s.name || s.words)[0],
      group: (rows) => {
        const standing = view.current?.standing()
        return standing ? groupOf(standing.figure, rows) : ''
      },
      axis: (column) => {
        const scale = view.current?.standing()?.figure.scales.find((s) => s.column === column)
        return scale && { name: scale.name || scale.title, unit: scale.unit, date: scale.kind === 'date' }
      },
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- where one walks, another figure is seen
    [steps, at],
  )
  const keep = async (text: string) => {
    if (!draft) return
    const kept = await bench.keptChart()
    if (!kept) throw bench.get().unsaved ?? new Refusal(0, 'the chart could not be kept', 'try again')
    const note = await hand.write(draft, text, { chart_id: kept.id })
    leave()
    setShown(note.id)
  }
  return { ...hand, numbers: numbered(notes), known, open, show, draft, begin, leave, placing, setPlacing, keep, view, painted }
}

/** N begins a note, where the sentence, the chart or the trail has the focus. */
function useNoteKey(makes: boolean, begin: () => void): void {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!makes || e.key.toLowerCase() !== 'n' || e.defaultPrevented || e.ctrlKey || e.metaKey || e.altKey) return
      if (!takesSingleKeys(e.target)) return
      e.preventDefault()
      begin()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [makes, begin])
}

/** A note that the address names is opened, once. */
export function useNoteOfAddress(notes: Note[], show: (note: Note) => void): void {
  const [search, setSearch] = useSearchParams()
  const wanted = Number(search.get('note'))
  useEffect(() => {
    const note = notes.find((n) => n.id === wanted)
    if (!note) return
    show(note)
    setSearch(
      (now) => {
        now.delete('note')
        return now
      },
      { replace: true },
    )
  }, [notes, wanted, show, setSearch])
}
