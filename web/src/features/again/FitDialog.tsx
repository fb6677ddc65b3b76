import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Dataset, type Document, type Fitted, type Pattern } from '../../api/client'
import { Dialog } from '../../ui/Dialog'
import { KindSign } from '../../ui/KindSign'
import { Trouble, Waiting } from '../../ui/Words'

/** What is used over a table: a pattern, or the sentence of a chart over a version. */
export type FitSource = { pattern: Pattern } | { document: Document; version: number }

/** What a list of columns says where a blank is left out: no column is called so. */
const LEFT_OUT = '\u0000'

/** Uses a sentence over another table: which column stands where, and what does not fit, before anything is made. */
export function FitDialog({
  source,
  over,
  but,
  close,
}: {
  source: FitSource
  /** Over which table; none: it is chosen here. */
  over?: Dataset
  /** The one that it is of. */
  but?: number
  close: () => void
}) {
  const navigate = useNavigate()
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: api.datasets })
  const others = (datasets.data ?? []).filter((d) => d.id !== but)
  const [chosen, choose] = useState(over?.id ?? 0)
  const [columns, setColumns] = useState<Record<string, string>>({})
  const [without, setWithout] = useState<string[]>([])
  const dataset = over ?? others.find((d) => d.id === chosen)
  const wanted =
    'pattern' in source
      ? { pattern_id: source.pattern.id, columns, without }
      : { document: source.document, from_version_id: source.version, columns, without }
  const fitted = useQuery({
    queryKey: ['fitted', dataset?.version_id, wanted],
    queryFn: ({ signal }) => api.fit(dataset!.version_id, wanted, signal),
    enabled: Boolean(dataset),
    placeholderData: (was) => was,
    retry: false,
  })
  const make = (document: Document) => navigate(`/dataset/${dataset!.id}/chart?new=${Date.now()}`, { state: { document } })
  return (
    <Dialog title={'pattern' in source ? `Use “${source.pattern.name}”` : 'The same over another table'} onClose={close}>
      {!over && (
        <label className="mb-4 flex flex-wrap items-center gap-3">
          Over
          <select
            className="field w-auto max-w-96"
            value={chosen}
            onChange={(e) => {
              choose(Number(e.target.value))
              setColumns({})
              setWithout([])
            }}
          >
            <option value={0}>choose a table…</option>
            {others.map((d) => (
              <option key={d.id} value={d.id}>
                {d.name}
              </option>
            ))}
          </select>
          {datasets.data && others.length === 0 && <span className="text-muted">There is no other table in this space.</span>}
        </label>
      )}
      {dataset && fitted.isPending && <Waiting what="Looking for columns that fit" />}
      {fitted.error && <Trouble message={fitted.error.message} />}
      {dataset && fitted.data && (
        <Fit
          fitted={fitted.data}
          without={without}
          choose={(blank, column) => {
            const rest = without.filter((b) => b !== blank)
            setWithout(column === LEFT_OUT ? [...rest, blank] : rest)
            setColumns({ ...chosenOf(fitted.data), ...columns, [blank]: column === LEFT_OUT ? '' : column })
          }}
          make={make}
        />
      )}
    </Dialog>
  )
}

const chosenOf = (fitted: Fitted): Record<string, string> => Object.fromEntries(fitted.blanks.map((b) => [b.column, b.chosen]))

function Fit({
  fitted,
  without,
  choose,
  make,
}: {
  fitted: Fitted
  without: string[]
  choose: (blank: string, column: string) => void
  make: (document: Document) => void
}) {
  const { blanks, misfits, lacking, spoken } = fitted
  return (
    <>
      <table className="mb-4 w-full text-left text-[14px]">
        <thead className="text-[13px] text-muted">
          <tr>
            <th scope="col" className="py-1 pr-4 font-normal">
              What the sentence names
            </th>
            <th scope="col" className="py-1 pr-4 font-normal">
              Here
            </th>
            <th scope="col" className="py-1 font-normal">
              Proposed by
            </th>
          </tr>
        </thead>
        <tbody>
          {blanks.map((blank) => (
            <tr key={blank.column} className="border-t border-line">
              <th scope="row" className="max-w-64 truncate py-1.5 pr-4 font-normal" title={blank.meaning || blank.column}>
                <span className="flex items-center gap-2">
                  <KindSign kind={blank.kind} />
                  <span className="truncate">
                    {blank.label}
                    {blank.unit && <span className="text-muted">, {blank.unit}</span>}
                  </span>
                </span>
              </th>
              <td className="py-1.5 pr-4">
                <select
                  className={`field w-full max-w-80 py-1 ${blank.chosen || without.includes(blank.column) ? '' : 'border-copper!'}`}
                  aria-label={`What stands for ${blank.label}`}
                  value={without.includes(blank.column) ? LEFT_OUT : blank.chosen}
                  onChange={(e) => choose(blank.column, e.target.value)}
                >
                  <option value="">nothing fits</option>
                  <option value={LEFT_OUT}>leave it out</option>
                  {blank.candidates.map((c) => (
                    <option key={c.column} value={c.column}>
                      {c.label}
                      {c.unit && `, ${c.unit}`}
                    </option>
                  ))}
                </select>
              </td>
              <td className="py-1.5 text-[13px] text-muted">{blank.candidates.find((c) => c.column === blank.chosen)?.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mb-3 font-serif text-[17px] leading-[1.5]">{spoken.map((p) => p.text).join('')}</p>
      {lacking.length > 0 && (
        <Trouble message={`Nothing stands for ${lacking.join(', ')}`} advice="choose a column, or use the sentence over another table" />
      )}
      {lacking.length === 0 && misfits.length > 0 && (
        <div role="alert" className="rounded-md border-l-3 border-copper bg-copper-wash px-3 py-2 text-[14px]">
          <strong className="font-semibold">What does not fit this table:</strong>
          <ul className="list-disc pl-5">
            {misfits.map((m, i) => (
              <li key={i}>
                {m.message}
                {m.advice && `: ${m.advice}`}
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className="mt-4 flex justify-end">
        <button type="button" className="button-bright" disabled={!fitted.document} onClick={() => make(fitted.document as Document)}>
          Open the chart
        </button>
      </div>
    </>
  )
}
