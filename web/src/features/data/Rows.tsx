import { useQueries } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef, type ReactNode } from 'react'
import { api, type ColumnProfile } from '../../api/client'
import { formatNumber } from '../../scale/format'

const PAGE = 200
const ROW_HEIGHT = 30

/** Rows of a version, however many: only what is seen is fetched and drawn. Rows at hand are drawn as given. */
export function Rows({ version, count, columns, head, rows: given }: { version: number; count: number; columns: ColumnProfile[]; head: (column: ColumnProfile) => ReactNode; rows?: string[][] }) {
  const scroller = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({ count, getScrollElement: () => scroller.current, estimateSize: () => ROW_HEIGHT, overscan: 12 })
  const items = rows.getVirtualItems()
  const first = Math.floor((items[0]?.index ?? 0) / PAGE)
  const last = Math.floor((items.at(-1)?.index ?? 0) / PAGE)
  const pages = useQueries({
    queries: Array.from({ length: given ? 0 : last - first + 1 }, (_, i) => ({
      queryKey: ['rows', version, first + i],
      queryFn: () => api.rows(version, (first + i) * PAGE, PAGE),
      staleTime: Infinity,
    })),
  })
  const cell = (row: number, column: number) => given ? given[row]?.[column] : pages[Math.floor(row / PAGE) - first]?.data?.[row % PAGE]?.[column]
  const grid = { gridTemplateColumns: columns.map((c) => (c.kind === 'text' && c.distinct > 60 ? 'minmax(140px, 1.4fr)' : 'minmax(140px, 1fr)')).join(' ') }
  return (
    <div ref={scroller} role="table" aria-label="Rows" aria-rowcount={count + 1} tabIndex={0} className="min-h-0 flex-1 overflow-auto rounded-xl border border-line bg-paper">
      <div className="w-max min-w-full">
        <div role="row" className="sticky top-0 z-10 grid border-b-2 border-line bg-strip" style={grid}>
          {columns.map((c) => (
            <div key={c.name} role="columnheader" className="h-[142px] overflow-hidden border-r border-line px-2.5 py-2 last:border-0">
              {head(c)}
            </div>
          ))}
        </div>
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {items.map((item) => (
            <div key={item.key} role="row" aria-rowindex={item.index + 2} className="absolute top-0 left-0 grid w-full border-b border-line" style={{ ...grid, height: ROW_HEIGHT, transform: `translateY(${item.start}px)` }}>
              {columns.map((c, j) => (
                <Cell key={c.name} column={c} value={cell(item.index, j)} />
              ))}
            </div>
          ))}
        </div>
      </div>
    </div>
  )
}

function Cell({ column, value }: { column: ColumnProfile; value: string | undefined }) {
  const right = column.kind === 'number'
  const text = value !== undefined && value !== '' && right && !column.groups ? formatNumber(Number(value), Math.min((value.split('.')[1] ?? '').length, 8)) : value
  return (
    <div role="cell" title={value} className={`truncate border-r border-line px-2.5 leading-[29px] tabular-nums last:border-0 ${right ? 'text-right' : ''}`}>
      {value === '' ? <span className="rounded bg-copper-wash px-1.5 py-0.5 text-xs text-copper">missing</span> : text}
    </div>
  )
}
