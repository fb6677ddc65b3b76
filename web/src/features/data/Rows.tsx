import { keepPreviousData, useQueries } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, type ReactNode } from 'react'
import { api, type ColumnProfile } from '../../api/client'
import { isAmount } from '../../ui/kinds'
import { formatNumber } from '../../scale/format'
import { Trouble } from '../../ui/Words'
import { cellKey, type Typed } from './ByHand'
import { columnSaid } from '../../sentence/detail'

const PAGE = 200
const ROW_HEIGHT = 30
/** Browsers draw no element higher than some 33 million pixels: longer tables are walked over faster. */
const MOST_PLACES = 1_000_000

/** Which rows are looked at, and in which order. */
export interface Look {
  which: 'all' | 'random' | 'left out'
  seed: number
  sort: string
  descending: boolean
  find: string
}

export const PLAIN_LOOK: Look = { which: 'all', seed: 0, sort: '', descending: false, find: '' }

interface Props {
  version: number
  typed: string
  look: Look
  columns: ColumnProfile[]
  head: (column: ColumnProfile) => ReactNode
  /** Where to stand, told anew with another number. */
  stand: { at: 'first' | 'last'; time: number }
  /** What the clauses say, for rows that they took away. */
  clauses: string[]
  counted: (rows: number) => void
  /** Rows that were chosen on a chart, from 0. */
  chosen: number[] | null
  /** Cells that are typed into, and what was typed so far; none: they are read alone. */
  typing?: { typed: Typed; type: (row: number, column: string, value: string) => void } | null
}

/** Rows of a table, however many: only what is seen is fetched and drawn. */
export function Rows({ version, typed, look, columns, head, stand, clauses, counted, chosen, typing }: Props) {
  const scroller = useRef<HTMLDivElement>(null)
  const request = { typed, which: look.which, seed: look.seed, sort: look.sort, descending: look.descending, find: look.find.trim() }
  const page = (n: number) => ({
    queryKey: ['view', version, request, n],
    queryFn: ({ signal }: { signal: AbortSignal }) => api.view(version, { ...request, from: n * PAGE, count: PAGE }, signal),
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: n === 0 ? keepPreviousData : undefined,
  })
  const [start] = useQueries({ queries: [page(0)] })
  const count = start.data?.rows ?? 0
  const places = Math.min(count, MOST_PLACES)
  const rows = useVirtualizer({ count: places, getScrollElement: () => scroller.current, estimateSize: () => ROW_HEIGHT, overscan: 12 })
  const items = rows.getVirtualItems()
  const way = rows.getTotalSize() - (scroller.current?.clientHeight ?? 0)
  const shift = way > 0 ? Math.round((count - places) * Math.min(1, (rows.scrollOffset ?? 0) / way)) : 0
  const first = Math.floor(((items[0]?.index ?? 0) + shift) / PAGE)
  const last = Math.floor(((items.at(-1)?.index ?? 0) + shift) / PAGE)
  const pages = useQueries({ queries: Array.from({ length: last - first + 1 }, (_, i) => page(first + i)) })
  const lit = useMemo(() => new Set(chosen), [chosen])
  const firstStart = items[0]?.start ?? 0
  const numbered = look.which !== 'all' || look.sort !== '' || request.find !== ''
  const fault = start.error
  useEffect(() => counted(count), [count, counted])
  useEffect(() => void rows.scrollToIndex(stand.at === 'first' ? 0 : places - 1), [stand, count === 0]) // eslint-disable-line react-hooks/exhaustive-deps -- only a person who says where, or the first rows, move the view
  if (fault) return <Trouble message={fault.message} />
  const widths = columns.map((c) => (c.kind === 'text' && c.distinct > 60 ? 150 : 132))
  const gutter = numbered ? (look.which === 'left out' ? 220 : 84) : 0
  const grid = { gridTemplateColumns: [gutter ? `${gutter}px` : '', ...widths.map((w) => `minmax(${w}px, ${w}fr)`)].join(' ') }
  const width = { width: `max(100%, ${widths.reduce((sum, w) => sum + w, gutter)}px)` }
  return (
    <div
      ref={scroller}
      role="table"
      aria-label="Rows"
      aria-rowcount={count + 1}
      aria-busy={start.isFetching}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto rounded-xl border border-line bg-paper"
    >
      <div style={width}>
        <div role="row" className="sticky top-0 z-10 grid border-b-2 border-line bg-strip" style={grid}>
          {numbered && (
            <div role="columnheader" className="sticky left-0 z-10 border-r border-line bg-strip px-2.5 py-2 text-[13px] text-muted">
              {look.which === 'left out' ? 'Row, and the clause that took it away' : 'Row'}
            </div>
          )}
          {columns.map((c) => (
            <div
              key={c.name}
              role="columnheader"
              data-column={c.name}
              aria-label={columnSaid(c)}
              className="h-[148px] overflow-hidden border-r border-line px-2.5 py-2 last:border-0"
            >
              {head(c)}
            </div>
          ))}
        </div>
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {/* A layer of its own: far down, places within the whole are too large for a painter's numbers. */}
          <div className="absolute top-0 left-0 w-full will-change-transform" style={{ transform: `translateY(${firstStart}px)` }}>
            {items.map((item) => {
              const index = Math.min(item.index + shift, count - 1)
              const view = pages[Math.floor(index / PAGE) - first]?.data
              const i = index % PAGE
              const values = view?.values?.[i]
              const row = numbered ? (view?.numbers?.[i] ?? 0) - 1 : index
              return (
                <div
                  key={item.key}
                  role="row"
                  aria-rowindex={index + 2}
                  aria-current={lit.has(row) || undefined}
                  className={`absolute left-0 grid w-full border-b border-line ${lit.has(row) ? 'bg-copper-wash' : ''}`}
                  style={{ ...grid, height: ROW_HEIGHT, top: item.start - firstStart }}
                >
                  {numbered && (
                    <div
                      role="rowheader"
                      className="sticky left-0 truncate border-r border-line bg-paper px-2.5 text-[13px] leading-[29px] text-muted tabular-nums"
                      title={look.which === 'left out' ? clauses[view?.clauses?.[i] ?? -1] : undefined}
                    >
                      {view?.numbers?.[i] !== undefined && formatNumber(view.numbers[i], 0)}
                      {look.which === 'left out' && ` · ${clauses[view?.clauses?.[i] ?? -1] ?? ''}`}
                    </div>
                  )}
                  {columns.map((c, j) => (
                    <Cell
                      key={c.name}
                      column={c}
                      value={values?.[j]}
                      find={request.find}
                      row={row + 1}
                      typed={typing?.typed.get(cellKey(row + 1, c.name))?.value}
                      type={typing ? (value) => typing.type(row + 1, c.name, value) : undefined}
                    />
                  ))}
                </div>
              )
            })}
          </div>
        </div>
        {start.data && count === 0 && <p className="px-4 py-5 text-muted">{nothing(look)}</p>}
      </div>
    </div>
  )
}

function nothing(look: Look): string {
  if (look.find) return `No value holds “${look.find}”.`
  if (look.which === 'left out') return 'No row was left out.'
  return 'No row is left: a clause took them all away.'
}

function Cell({
  column,
  value,
  find,
  row,
  typed,
  type,
}: {
  column: ColumnProfile
  value: string | undefined
  find: string
  row: number
  typed: string | undefined
  type?: (value: string) => void
}) {
  const right = isAmount(column.kind)
  if (type && value !== undefined)
    return (
      <div role="cell" className="border-r border-line last:border-0">
        <input
          aria-label={`${column.label}, row ${row}`}
          className={`h-full w-full bg-transparent px-2.5 tabular-nums focus-visible:-outline-offset-2 ${right ? 'text-right' : ''} ${typed !== undefined ? 'bg-verdigris-wash' : ''}`}
          value={typed ?? value}
          onChange={(e) => type(e.target.value)}
        />
      </div>
    )
  const text =
    value !== undefined && value !== '' && column.kind === 'number' && (!column.groups || column.decimals)
      ? formatNumber(Number(value), column.decimals ?? 0)
      : value
  const holds = find !== '' && value?.toLowerCase().includes(find.toLowerCase())
  return (
    <div
      role="cell"
      title={value}
      className={`truncate border-r border-line px-2.5 leading-[29px] tabular-nums last:border-0 ${right ? 'text-right' : ''} ${holds ? 'bg-copper-wash' : ''}`}
    >
      {value === '' ? <span className="rounded bg-copper-wash px-1.5 py-0.5 text-xs text-copper">missing</span> : text}
    </div>
  )
}
