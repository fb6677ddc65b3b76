import type { Chart, Comparison } from '../../api/client'
import { SMALL } from '../../state/bench'
import { Grown } from '../chart/Grown'
import { ChartPicture } from '../chart/ChartPicture'
import { Letter } from './Letter'
import type { SideName } from './sides'

/** The trail under two charts: pressing a step puts the chosen side there. */
export function CompareTrail({
  chart,
  comparison,
  put,
  chosen,
}: {
  chart?: Chart
  comparison: Comparison
  put: (step: number) => void
  chosen: SideName
}) {
  const key = (name: string) => <kbd className="rounded border border-line bg-paper px-1.5">{name}</kbd>
  const of = (step: number): ('A' | 'B')[] =>
    (['A', 'B'] as const).filter((name) => {
      const side = comparison[name === 'A' ? 'a' : 'b']
      return side.chart_id === chart?.id && side.step_id === step
    })
  return (
    <section
      aria-label="Trail"
      className="flex h-[110px] shrink-0 items-center gap-4 border-t border-line bg-[color-mix(in_srgb,var(--wash)_93%,var(--verdigris))] px-4.5 dark:bg-wash"
    >
      <h2 className="rotate-180 font-serif text-sm text-ink/75 [writing-mode:vertical-rl]">Trail</h2>
      <ol className="flex min-w-0 flex-1 items-center gap-4 overflow-x-auto pt-3 pb-2 pl-2.5">
        {chart?.steps?.map((step) => {
          const letters = of(step.id)
          return (
            <li key={step.id} className="relative shrink-0">
              <span className="absolute -top-2.5 -left-2 z-1 flex">
                {letters.map((letter) => (
                  <Letter key={letter} of={letter} />
                ))}
              </span>
              <button
                type="button"
                title={`${step.words}: put ${chosen.toUpperCase()} here`}
                aria-label={[step.words, ...letters].join(', ')}
                onClick={() => put(step.id)}
                className={`w-[106px] overflow-hidden rounded-lg border bg-paper ${letters.length > 0 ? 'border-copper ring-1 ring-copper' : 'border-line hover:border-copper'}`}
              >
                <Grown
                  chart={chart.id}
                  step={step.id}
                  version={chart.version_id}
                  told={[step.name || step.words, step.by].filter(Boolean).join('\n')}
                >
                  <ChartPicture chart={chart.id} step={step.id} version={chart.version_id} {...SMALL} />
                </Grown>
                <span className={`block truncate px-1.5 pb-1 text-xs ${letters.length > 0 ? 'font-semibold' : 'text-muted'}`}>
                  {step.words}
                </span>
              </button>
            </li>
          )
        })}
      </ol>
      <p className="hidden shrink-0 text-right text-[13px] leading-6 text-ink/75 xl:block">
        {key('←')} {key('→')} move {chosen.toUpperCase()}
        <br />
        {key('S')} swap sides
        <br />
        {key('esc')} back to one
      </p>
    </section>
  )
}
