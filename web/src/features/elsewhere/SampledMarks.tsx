import type { Drawing } from '../../api/client'
import { BasisDot } from '../../ui/BasisSign'
import type { Bench } from '../../state/bench'

/** Marks that show single rows, for which all rows can be counted in cells instead. */
const COUNTED = ['dots', 'contours', 'squares', 'hexagons']

/** Under the chart: which marks are of the sample, where all rows are asked. */
export function SampledMarks({ drawing, bench }: { drawing: Drawing; bench: Bench }) {
  const whole = drawing.figure.elsewhere
  if (!whole || whole.bars || whole.sampled.length === 0 || whole.questions.some((q) => !q.known)) return null
  const names = whole.sampled.join(', ').replaceAll('-', ' ')
  return (
    <span className="flex shrink-0 items-center gap-2 text-[13px] text-muted">
      <BasisDot basis="sample" />
      {names[0].toUpperCase() + names.slice(1)} {whole.sampled.length === 1 && !names.endsWith('s') ? 'is' : 'are'} of the sample
      {COUNTED.includes(whole.sampled[0]) && whole.sampled.length === 1 && (
        <button type="button" className="link" onClick={() => void bench.amend({ say: ['as hexagons'] })}>
          count all rows
        </button>
      )}
    </span>
  )
}
