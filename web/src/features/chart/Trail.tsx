import { useEffect, useRef } from 'react'
import { Trouble } from '../../ui/Words'
import type { Bench } from '../../state/bench'
import { ChartPicture } from './ChartPicture'
import { useBench } from './useBench'

/** Every change of the chart as a step with its small picture; pressing one walks there. */
export function Trail({ bench }: { bench: Bench }) {
  const { steps, at, unsaved } = useBench(bench)
  const here = useRef<HTMLLIElement>(null)
  useEffect(() => void here.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' }), [at])
  return (
    <section aria-label="Trail" className="flex h-[110px] shrink-0 items-center gap-4 border-t border-line bg-[color-mix(in_srgb,var(--wash)_93%,var(--verdigris))] px-4.5 dark:bg-wash">
      <h2 className="rotate-180 font-serif text-sm text-ink/75 [writing-mode:vertical-rl]">Trail</h2>
      {steps.length === 0 ? (
        <p className="text-ink/75">The first change you make begins the trail; nothing is lost by trying.</p>
      ) : (
        <ol className="flex min-w-0 flex-1 items-center overflow-x-auto py-2">
          {steps.map((step, i) => (
            <li key={step.id} ref={step.id === at ? here : undefined} className="flex shrink-0 items-center">
              {i > 0 && <span aria-hidden className={`h-px w-4 ${step.parent_id === steps[i - 1].id ? 'bg-verdigris' : 'border-t border-dashed border-muted'}`} />}
              <button
                type="button"
                aria-current={step.id === at ? 'step' : undefined}
                title={step.words}
                onClick={() => bench.walkTo(step)}
                className={`w-[106px] overflow-hidden rounded-lg border bg-paper ${step.id === at ? 'border-copper ring-1 ring-copper' : 'border-line hover:border-copper'}`}
              >
                <ChartPicture version={bench.version} document={step.document} width={104} height={54} />
                <span className={`block truncate px-1.5 pb-1 text-xs ${step.id === at ? 'font-semibold' : 'text-muted'}`}>{step.words}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
      {unsaved && <Trouble message={`the last step was not kept: ${unsaved.message}`} advice={unsaved.advice} />}
      <p className="hidden shrink-0 text-right text-[13px] leading-6 text-ink/75 xl:block">
        <kbd className="rounded border border-line bg-paper px-1.5">←</kbd> <kbd className="rounded border border-line bg-paper px-1.5">→</kbd> walk the trail
      </p>
    </section>
  )
}
