import { useEffect, useRef, useState } from 'react'
import { Trouble } from '../../ui/Words'
import type { Bench } from '../../state/bench'
import { ChartPicture } from './ChartPicture'
import { useBench } from './useBench'

/** Every change of the chart as a step with its small picture; pressing one walks there. */
export function Trail({ bench, narrow }: { bench: Bench; narrow: boolean }) {
  const { chart, steps, at, unsaved } = useBench(bench)
  const here = useRef<HTMLLIElement>(null)
  useEffect(() => void here.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' }), [at])
  const [pictures, setPictures] = useState(false)
  if (narrow && !pictures) return <Points bench={bench} show={() => setPictures(true)} />
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
                <ChartPicture chart={chart!.id} step={step.id} version={bench.version} width={104} height={54} now={step.id === at} />
                <span className={`block truncate px-1.5 pb-1 text-xs ${step.id === at ? 'font-semibold' : 'text-muted'}`}>{step.words}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
      {narrow && (
        <button type="button" className="link shrink-0 text-[13px]" onClick={() => setPictures(false)}>
          points
        </button>
      )}
      {unsaved && <Trouble message={`the last step was not kept: ${unsaved.message}`} advice={unsaved.advice} />}
      <p className="hidden shrink-0 text-right text-[13px] leading-6 text-ink/75 xl:block">
        <kbd className="rounded border border-line bg-paper px-1.5">←</kbd> <kbd className="rounded border border-line bg-paper px-1.5">→</kbd> walk the trail
      </p>
    </section>
  )
}

/** The trail in a narrow window: named points. */
function Points({ bench, show }: { bench: Bench; show: () => void }) {
  const { steps, at, unsaved } = useBench(bench)
  return (
    <section aria-label="Trail" className="flex h-10 shrink-0 items-center gap-4 border-t border-line bg-[color-mix(in_srgb,var(--wash)_93%,var(--verdigris))] px-4.5 text-[13px] dark:bg-wash">
      <h2 className="font-serif text-sm text-ink/75">Trail</h2>
      {steps.length === 0 && <p className="min-w-0 flex-1 truncate text-ink/75">The first change you make begins the trail.</p>}
      <ol className="flex min-w-0 flex-1 items-center overflow-x-auto">
        {steps.map((step, i) => (
          <li key={step.id} className="flex shrink-0 items-center">
            {i > 0 && <span aria-hidden className="mx-2 h-px w-4 bg-verdigris" />}
            <button type="button" aria-current={step.id === at ? 'step' : undefined} title={step.words} onClick={() => bench.walkTo(step)} className={`flex items-center gap-1.5 whitespace-nowrap ${step.id === at ? 'font-semibold' : 'text-ink/75 hover:text-copper'}`}>
              <span aria-hidden className={`size-2 rounded-full border ${step.id === at ? 'border-copper bg-copper' : 'border-muted'}`} />
              {step.words}
            </button>
          </li>
        ))}
      </ol>
      {unsaved && <Trouble message={`the last step was not kept: ${unsaved.message}`} advice={unsaved.advice} />}
      <button type="button" className="link shrink-0" onClick={show}>
        pictures
      </button>
    </section>
  )
}
