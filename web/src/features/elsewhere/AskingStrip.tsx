import type { Drawing } from '../../api/client'
import { counted } from '../../scale/format'
import { BasisDot } from '../../ui/BasisSign'
import type { WholeAsking } from './useWhole'

/** Above the chart: how far it is of all rows of its table, while they are asked or where they are not. */
export function AskingStrip({
  drawing,
  asking,
  sample,
  asks,
}: {
  drawing: Drawing
  asking: WholeAsking
  sample: string
  /** Whether whoever looks at it may ask. */
  asks: boolean
}) {
  const whole = drawing.figure.elsewhere
  if (!whole) return null
  const open = whole.questions.filter((q) => !q.known)
  const known = whole.questions.length - open.length
  const { running, parts, stopped, failed } = asking
  if (open.length === 0 && !whole.bars) return null
  const tried = open.every((q) => failed.has(q.key))
  return (
    <div className="px-1 text-[13px]" role="group" aria-label="Sample and all rows">
      <div className="flex items-center gap-2.5">
        <BasisDot basis="sample" />
        <p className="min-w-0 flex-1" role="status">
          {known === 0 || whole.bars ? (
            <>
              A sample of <strong className="font-semibold">{sample} rows</strong> stands here
            </>
          ) : (
            <>
              All rows answered {known} of {counted(whole.questions.length, 'question')}; what they did not is of a sample of{' '}
              <strong className="font-semibold">{sample} rows</strong>
            </>
          )}
          {whole.bars && <>: {whole.bars}</>}
          {!whole.bars && running && known === 0 && '; all rows are asked'}
          {!whole.bars && running && parts && (
            <>
              : <strong className="font-semibold tabular-nums">{parts.done}</strong> of {counted(parts.of, 'part')}
            </>
          )}
          {!whole.bars && !running && tried && open.length > 0 && '; why all rows do not answer stands beside the chart'}
        </p>
        {asks && !whole.bars && (running || (!stopped && !tried)) && (
          <button type="button" className="link" onClick={asking.stop}>
            stop
          </button>
        )}
        {asks && !whole.bars && !running && (stopped || tried) && (
          <button type="button" className="link" onClick={asking.goOn}>
            ask all rows
          </button>
        )}
      </div>
      {asks && !whole.bars && (
        <div aria-hidden className="mt-1.5 flex gap-1">
          {Array.from({ length: parts?.of && parts.of <= MOST_SHOWN ? parts.of : MOST_SHOWN }, (_, i) => (
            <span key={i} className={`h-[3px] flex-1 rounded-full ${parts && i < share(parts) ? 'bg-verdigris' : 'bg-line'}`} />
          ))}
        </div>
      )}
    </div>
  )
}

/** How many parts are shown as such; of more, a share of the way. */
const MOST_SHOWN = 8

const share = ({ done, of }: { done: number; of: number }) => (of <= MOST_SHOWN ? done : Math.floor((MOST_SHOWN * done) / of))
