import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Comparison } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'

const FEW = 12

/** The rows that only one of the two leaves out, by reason; pressed, they are ringed on the other and listed. */
export function OnlyRows({
  comparison,
  light,
}: {
  comparison: Comparison
  /** Rings rows on the chart that draws them; null: none. */
  light: (rows: { a?: number[]; b?: number[] } | null) => void
}) {
  const [open, setOpen] = useState<'a' | 'b' | null>(null)
  const { only_a, only_b, rows } = comparison
  if (rows) return <p className="text-[13px] text-muted">{rows}</p>
  if (only_a.count + only_b.count === 0) return <p className="text-[13px] text-muted">Both leave out the same rows.</p>
  const show = (side: 'a' | 'b') => {
    const next = open === side ? null : side
    setOpen(next)
    const zeroed = (side === 'a' ? only_a : only_b).rows.map((row) => row - 1)
    light(next && (side === 'a' ? { b: zeroed } : { a: zeroed }))
  }
  return (
    <div className="flex flex-col gap-2">
      {(
        [
          ['b', 'B', only_b],
          ['a', 'A', only_a],
        ] as const
      ).map(
        ([side, name, only]) =>
          only.count > 0 && (
            <div key={side} className="grid grid-cols-[3.2rem_1fr] gap-x-3 text-[13px]">
              <strong className="text-right tabular-nums">{formatNumber(only.count, 0)}</strong>
              <button type="button" className="link justify-self-start" aria-expanded={open === side} onClick={() => show(side)}>
                only {name} leaves out
              </button>
              <span />
              <span className="text-muted">{only.reasons.map((r) => `${formatNumber(r.count, 0)} ${r.reason}`).join(', ')}</span>
              {open === side && (
                <div className="col-span-2 mt-1">
                  <Listed rows={only.rows} of={only.count} version={comparison.a.version_id} columns={columnsOf(comparison)} />
                </div>
              )}
            </div>
          ),
      )}
    </div>
  )
}

/** The columns along the axes of both, and those that colour, size or shape them. */
function columnsOf({ a, b }: Comparison): string[] {
  const all = [a.document, b.document].flatMap((d) => [d.y.column, d.x.column, d.colour?.column, d.size?.column, d.shape?.column])
  return [...new Set(all.filter((c): c is string => Boolean(c)))]
}

function Listed({ rows, of, version, columns }: { rows: number[]; of: number; version: number; columns: string[] }) {
  const shown = rows.slice(0, FEW)
  const values = useQuery({
    queryKey: ['rows of', version, shown, columns],
    queryFn: () => Promise.all(shown.map((row) => api.row(version, row - 1, columns))),
  })
  return (
    <div className="max-h-48 overflow-auto rounded-lg border border-line bg-paper px-2 py-1">
      <table className="w-full text-[12.5px] tabular-nums">
        <thead className="text-left text-muted">
          <tr>
            <th scope="col" className="pr-2 font-normal">
              row
            </th>
            {columns.map((c) => (
              <th key={c} scope="col" className="pr-2 font-normal">
                {c.replaceAll('_', ' ')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {values.data?.map((row, i) => (
            <tr key={shown[i]}>
              <th scope="row" className="pr-2 text-left font-normal text-muted">
                {formatNumber(shown[i], 0)}
              </th>
              {columns.map((c) => (
                <td key={c} className="max-w-32 truncate pr-2" title={row[c]}>
                  {row[c] || '–'}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {of > shown.length && <p className="text-muted">and {counted(of - shown.length, 'row')} more</p>}
    </div>
  )
}
