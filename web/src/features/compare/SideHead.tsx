import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { api, type Chart, type Comparison } from '../../api/client'
import { wordLook } from '../../sentence/look'
import { Letter } from './Letter'

type Compared = Comparison['a']

/** The sentence of one side: its words where they differ stand on copper. */
export function SideHead({
  of,
  side,
  differs,
  chart,
  chosen,
  choose,
  instead,
}: {
  of: 'A' | 'B'
  side: Compared
  differs: string[]
  /** With its trail. */
  chart?: Chart
  chosen: boolean
  choose: () => void
  instead: (next: { chart?: number; step?: number; version?: number }) => void
}) {
  const navigate = useNavigate()
  const steps = chart?.steps ?? []
  const at = steps.findIndex((s) => s.id === side.step_id)
  const walk = async () => {
    await api.moveTo(side.chart_id, side.step_id)
    navigate(`/dataset/${side.dataset_id}/chart/${side.chart_id}`)
  }
  return (
    <section aria-label={`Sentence of ${of}`} className="min-w-0 flex-1 px-2" onPointerDown={choose}>
      <div className="flex min-h-8 items-center gap-x-2.5 text-[13px] slim:flex-wrap">
        <Letter of={of} chosen={chosen} />
        <strong className="min-w-0 truncate" title={steps[at]?.words ?? side.name}>
          {steps[at]?.words ?? side.name}
        </strong>
        {at >= 0 && <span className="shrink-0 text-muted">step {at + 1}</span>}
        <Instead of={of} side={side} instead={instead} />
        <button type="button" className="link ml-auto shrink-0" onClick={() => void walk()}>
          walk to this step
        </button>
      </div>
      <p className="font-serif text-[17px] leading-[26px]">
        {side.spoken.map((part, i) => (
          <span
            key={i}
            className={part.clause && differs.includes(part.clause) ? 'rounded-sm bg-copper-wash' : ''}
            data-differs={part.clause && differs.includes(part.clause) ? '' : undefined}
          >
            <span className={part.slot ? wordLook(part.role) : ''}>{part.folded || part.text}</span>
          </span>
        ))}
      </p>
    </section>
  )
}

/** Another chart of the space, or another version of the dataset, on this side. */
function Instead({ of, side, instead }: { of: string; side: Compared; instead: (next: { chart?: number; version?: number }) => void }) {
  const charts = useQuery({ queryKey: ['charts', 'any'], queryFn: () => api.findCharts({}) }).data?.charts ?? []
  const versions = useQuery({ queryKey: ['versions', side.dataset_id], queryFn: () => api.versions(side.dataset_id) })
  const known = versions.data ?? []
  return (
    <>
      <select
        className="field w-auto max-w-32 shrink-0 py-0 text-[12.5px]"
        aria-label={`Chart of ${of}`}
        value={side.chart_id}
        onChange={(e) => instead({ chart: Number(e.target.value) })}
      >
        {!charts.some((c) => c.id === side.chart_id) && <option value={side.chart_id}>{side.name}</option>}
        {charts.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
      {known.length > 1 && (
        <select
          className="field w-auto shrink-0 py-0 text-[12.5px]"
          aria-label={`Version of ${of}`}
          value={side.version_id}
          onChange={(e) => instead({ version: Number(e.target.value) })}
        >
          {known.map((v) => (
            <option key={v.id} value={v.id}>
              version {v.number}
            </option>
          ))}
        </select>
      )}
    </>
  )
}
