import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type ColumnProfile } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'
import { columnText, valueText } from '../../sentence/quoting'
import { Dialog } from '../../ui/Dialog'
import { Trouble, Waiting } from '../../ui/Words'

/** Every group of a column with its rows, found by a part of its name; one that is pressed keeps its rows. */
export function AllGroups({
  version,
  typed,
  column,
  keep,
  close,
}: {
  version: number
  typed: string
  column: ColumnProfile
  keep: (clause: string) => void
  close: () => void
}) {
  const [find, setFind] = useState('')
  const found = useQuery({
    queryKey: ['groups', version, typed, column.name],
    queryFn: () => api.groups(version, typed, column.name),
    staleTime: Infinity,
  })
  const all = found.data
  const wanted = find.trim().toLowerCase()
  const groups = (all?.groups ?? []).filter((g) => g.name.toLowerCase().includes(wanted))
  return (
    <Dialog title={`Groups of ${column.label}`} onClose={close}>
      {found.error && <Trouble message={found.error.message} />}
      {found.isPending && <Waiting what="Counting the groups" />}
      {all && (
        <>
          <p className="text-[13px] text-muted" role="status">
            {counted(groups.length, 'group')}
            {wanted && ' found'}
            {all.missing > 0 && ` · ${counted(all.missing, 'row')} without one`}
            {all.others > 0 && ` · ${counted(all.others, 'more group')}, less frequent, not listed`}
          </p>
          <input
            type="search"
            className="field mt-2 py-1.5"
            aria-label="Find a group"
            placeholder="Find a group…"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
          <div className="mt-2 max-h-[50vh] overflow-auto" tabIndex={0} role="region" aria-label="Groups with their rows">
            <table className="w-full text-[13.5px] tabular-nums">
              <thead className="sticky top-0 bg-strip text-left text-muted">
                <tr>
                  <th scope="col" className="py-1 font-normal">
                    Group
                  </th>
                  <th scope="col" className="py-1 pl-3 text-right font-normal">
                    Rows
                  </th>
                  <th scope="col" className="py-1 pl-3 text-right font-normal">
                    Share
                  </th>
                </tr>
              </thead>
              <tbody>
                {groups.map((g) => (
                  <tr key={g.name} className="border-t border-line">
                    <th scope="row" className="py-1 text-left font-normal wrap-anywhere">
                      <button
                        type="button"
                        className="text-left hover:text-copper hover:underline"
                        title="Keep its rows"
                        onClick={() => keep(`keep ${columnText(column.name)} = ${valueText(g.name)}`)}
                      >
                        <bdi>{g.name}</bdi>
                      </button>
                    </th>
                    <td className="py-1 pl-3 text-right">{formatNumber(g.count, 0)}</td>
                    <td className="py-1 pl-3 text-right whitespace-nowrap">{formatNumber((100 * g.count) / all.rows, 1)} %</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </Dialog>
  )
}
