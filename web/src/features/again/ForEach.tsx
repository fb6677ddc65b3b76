import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, Refusal, type Amendment, type ColumnProfile, type Document } from '../../api/client'
import { counted } from '../../scale/format'
import { columnSaid } from '../../sentence/lines'
import { plain } from '../../ui/plain'
import type { Bench } from '../../state/bench'
import { Dialog } from '../../ui/Dialog'
import { isAmount } from '../../ui/kinds'
import { Trouble } from '../../ui/Words'

/** The most charts that are made at once. */
const MOST = 20

/** A column, or a statistic of it, as it is typed. */
const said = ({ column, of }: Document['x']) => (of ? `${of}(${column ? columnSaid(column) : ''})` : columnSaid(column ?? ''))

/** What makes the chart one of another column along an axis: what was said of that axis alone is not said of the other column. */
function ofColumn({ x, y }: Document, axis: 'x' | 'y', column: string): Amendment {
  const [along, against] = axis === 'y' ? [{ ...y, column }, x] : [y, { ...x, column }]
  return { drop: [axis, 'title', 'note'], say: [`plot ${said(along)} against ${said(against)}`] }
}

/** Makes the same chart for each of several columns, and a page of them. */
export function ForEach({ bench, columns, onClose }: { bench: Bench; columns: ColumnProfile[]; onClose: () => void }) {
  const navigate = useNavigate()
  const { document } = bench.get()
  const [axis, setAxis] = useState<'x' | 'y'>('y')
  const [chosen, choose] = useState<ReadonlySet<string>>(new Set())
  const [made, setMade] = useState<number | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const others = columns.filter((c) => isAmount(c.kind) && c.name !== document.x.column && c.name !== document.y.column)
  const other = columns.find((c) => c.name === document[axis === 'y' ? 'x' : 'y'].column)
  const make = async () => {
    setTrouble(null)
    const names = others.filter((c) => chosen.has(c.name))
    const blocks = []
    const refused: string[] = []
    for (const [i, column] of names.entries()) {
      setMade(i)
      try {
        const wanted = { document, changes: [ofColumn(document, axis, column.name)], width: 640, height: 300 }
        const { document: other } = await api.draw(bench.version, wanted)
        const chart = await api.addChart(bench.version, other)
        blocks.push({ id: `c${i}`, text: `## ${plain(column.label)}`, chart: { id: chart.id }, place: 'right' as const })
      } catch (fault) {
        refused.push(`${column.label}: ${fault instanceof Error ? fault.message : fault}`)
      }
    }
    try {
      if (blocks.length === 0) throw new Refusal(422, refused.join('; ') || 'no column is chosen', 'choose other columns')
      const lead = refused.length > 0 ? plain(`Not drawn: ${refused.join('; ')}.`).slice(0, 2000) : ''
      const title = `${counted(blocks.length, 'column')} ${axis === 'y' ? 'against' : 'beside'} ${other?.label ?? ''}`.trim()
      const page = await api.addPage({ version: 1, title, lead, same_axes: true, blocks })
      navigate(`/page/${page.id}`)
    } catch (fault) {
      setMade(null)
      setTrouble(fault as Refusal)
    }
  }
  return (
    <Dialog title="The same for other columns" onClose={onClose}>
      <fieldset className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
        <legend className="sr-only">Along which axis</legend>
        {(['y', 'x'] as const).map((one) => (
          <label key={one} className="flex items-center gap-1.5">
            <input type="radio" name="axis" checked={axis === one} onChange={() => setAxis(one)} /> other columns along {one}
          </label>
        ))}
      </fieldset>
      <ul className="mb-4 grid grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-x-4 gap-y-1 text-sm">
        {others.map((c) => (
          <li key={c.name}>
            <label className="flex min-h-6 items-center gap-1.5">
              <input
                type="checkbox"
                checked={chosen.has(c.name)}
                disabled={!chosen.has(c.name) && chosen.size >= MOST}
                onChange={(e) => {
                  const next = new Set(chosen)
                  if (e.target.checked) next.add(c.name)
                  else next.delete(c.name)
                  choose(next)
                }}
              />
              <span className="truncate" title={c.label}>
                {c.label}
                {c.unit && <span className="text-muted">, {c.unit}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      {others.length === 0 && <p className="text-muted">The table has no other columns of numbers.</p>}
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <div className="flex items-center gap-4">
        <button type="button" className="button-bright" disabled={chosen.size === 0 || made !== null} onClick={() => void make()}>
          Make a page of {counted(chosen.size, 'chart')}
        </button>
        {made !== null && (
          <span role="status" className="text-[13px] text-muted">
            {made} of {chosen.size} made …
          </span>
        )}
        <button type="button" className="link text-[13px]" onClick={() => choose(new Set(others.slice(0, MOST).map((c) => c.name)))}>
          choose {others.length > MOST ? `the first ${MOST}` : 'all'}
        </button>
      </div>
    </Dialog>
  )
}
