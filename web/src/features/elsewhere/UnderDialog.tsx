import { useQuery } from '@tanstack/react-query'
import { api, type Document } from '../../api/client'
import type { Limits } from '../../interact/axes'
import { counted, formatNumber } from '../../scale/format'
import { Dialog } from '../../ui/Dialog'
import { isAmount } from '../../ui/kinds'
import { Trouble } from '../../ui/Words'

/** A part of a chart whose rows are looked at. */
export interface LookedAt {
  document: Document
  part: { x?: Limits; y?: Limits }
}

/** The rows of a table that stays elsewhere which lie in the part of the chart that is looked at. */
export function UnderDialog({ version, at, close }: { version: number; at: LookedAt; close: () => void }) {
  const found = useQuery({
    queryKey: ['under', version, at],
    queryFn: ({ signal }) => api.rowsUnder(version, at, signal),
    staleTime: Infinity,
    gcTime: 0,
  })
  const rows = found.data?.rows ?? []
  const columns = found.data?.columns ?? []
  return (
    <Dialog title="Rows under this part" onClose={close}>
      {found.error && <Trouble message={found.error.message} />}
      {found.isPending && (
        <p role="status" className="text-muted">
          The database counts the rows that lie here; closing this lets it go.
        </p>
      )}
      {found.data && (
        <p className="mb-3">
          {found.data.count === 0
            ? 'No row of the table lies here.'
            : rows.length === 0
              ? `${counted(found.data.count, 'row')} of the table lie here, more than the ${formatNumber(found.data.most, 0)} that are listed: look more closely.`
              : `${counted(rows.length, 'row')} of all rows, as the database has them now.`}
        </p>
      )}
      {rows.length > 0 && (
        <div className="max-h-[60vh] overflow-auto rounded-lg border border-line bg-paper" tabIndex={0} role="region" aria-label="Rows">
          <table className="w-full text-left text-[13px] tabular-nums">
            <thead className="sticky top-0 bg-strip text-muted">
              <tr>
                {columns.map((c) => (
                  <th key={c.column} scope="col" className={`px-3 py-1.5 font-normal ${isAmount(c.kind) ? 'text-right' : ''}`}>
                    {c.label}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((cells, i) => (
                <tr key={i} className="border-t border-line">
                  {(cells ?? []).map((cell, j) => (
                    <td
                      key={j}
                      className={`max-w-72 truncate px-3 py-1 ${isAmount(columns[j].kind) ? 'text-right' : ''} ${cell ? '' : 'text-copper'}`}
                      title={cell}
                    >
                      {cell || 'missing'}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Dialog>
  )
}
