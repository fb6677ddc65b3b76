import { useState } from 'react'
import { api, Refusal, type Answer } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { useMakes } from '../../ui/may'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'

/** Rows that were set aside are asked once whether what the chart shows holds in them; the answer stays. */
export function AskAside({ bench }: { bench: Bench }) {
  const { chart } = useBench(bench, 'chart')
  const [fresh, setFresh] = useState<Answer | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [asking, setAsking] = useState(false)
  const answer = fresh ?? chart?.answer
  const makes = useMakes()
  if (!chart) return null
  const ask = async () => {
    setAsking(true)
    setTrouble(null)
    try {
      await bench.settled()
      setFresh(await api.askAside(chart.id))
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setAsking(false)
    }
  }
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="Rows set aside">
      <h3 className="mb-1 font-serif text-[17px] font-semibold">Rows set aside</h3>
      {answer ? (
        <>
          <p className="text-[14.5px] leading-[1.45]">{answer.words}</p>
          <p className="mt-1 text-[13px] text-muted">
            Asked by {answer.by || 'somebody'} on{' '}
            {new Date(answer.at).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })}, of{' '}
            {formatNumber(answer.rows, 0)} rows. A chart asks once.
          </p>
        </>
      ) : (
        <>
          <p className="text-[13.5px] leading-[1.4] text-muted">
            Some rows were set aside, and no chart has seen them. When you believe what this chart shows, ask them: once, and the answer
            stays with the chart.
          </p>
          <button type="button" className="link mt-1 text-[13.5px]" disabled={asking || !makes} onClick={() => void ask()}>
            {asking ? 'Asking…' : 'Ask the rows set aside'}
          </button>
        </>
      )}
      {trouble && (
        <p className="mt-1 text-copper">
          {trouble.message}. {trouble.advice}
        </p>
      )}
    </section>
  )
}
