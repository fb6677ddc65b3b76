import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, Refusal, type ComparedSides, type Comparison } from '../../api/client'
import { plain } from '../../ui/plain'
import { Trouble } from '../../ui/Words'
import { Naming } from '../again/Patterns'

/** What the two are called together. */
const titleOf = ({ a, b, words }: Comparison) => `${a.name} beside ${b.name === a.name ? words : b.name}`

/** Keeps a comparison under a name, puts both charts on a page, and shares that. */
export function KeepIt({ comparison, sides, own }: { comparison: Comparison; sides: ComparedSides; own: boolean }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [naming, setNaming] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const { a, b } = comparison
  const put = async (shared: boolean) => {
    setTrouble(null)
    try {
      const page = await api.addPage({
        version: 1,
        title: titleOf(comparison).slice(0, 500),
        lead: comparison.slopes.words ?? '',
        same_axes: !own,
        blocks: [await block('a', a, sides.a_version), await block('b', b, sides.b_version)],
      })
      navigate(`/page/${page.id}${shared ? '?share' : ''}`)
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  return (
    <>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <button type="button" className={IN_BAR} title="Under a name, on the front page" onClick={() => setNaming(true)}>
        Keep…
      </button>
      <button type="button" className={IN_BAR} title="Makes a page of both, to be written in" onClick={() => void put(false)}>
        Put both on a page
      </button>
      <button type="button" className="button-bright" title="Makes a page of both, and shares it" onClick={() => void put(true)}>
        Share…
      </button>
      {naming && (
        <Naming
          title="Keep this comparison"
          says="Both charts are kept as they are at these steps, side by side, and stand on the front page."
          first={titleOf(comparison).slice(0, 200)}
          keep={async (name) => {
            await api.keepComparison(name, { ...sides, a_step: a.step_id, b_step: b.step_id, own })
            await queries.invalidateQueries({ queryKey: ['comparisons'] })
          }}
          close={() => setNaming(false)}
        />
      )}
    </>
  )
}

const IN_BAR = 'rounded-lg border border-bar-muted px-3 py-1.5 text-bar-ink hover:bg-bar-here'

/** A side as a block of a page. Over another version than its chart's own it is a chart more, which stands over that one. */
async function block(id: string, side: Comparison['a'], version: number) {
  const text = `## ${id.toUpperCase()}\n\n${plain(side.spoken.map((p) => p.text).join(''))}`
  if (!version) return { id, text, chart: { id: side.chart_id, step: side.step_id } }
  const made = await api.addChart(side.version_id, side.document, side.name)
  return { id, text, chart: { id: made.id } }
}
