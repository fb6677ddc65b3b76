import { memo, useEffect, useRef, useState, type ReactNode } from 'react'
import { Trouble } from '../../ui/Words'
import { SMALL, type Bench } from '../../state/bench'
import { ChartPicture, PictureAtHand } from './ChartPicture'
import { useBench } from '../../state/useBench'

/** Every change of the chart as a step with its small picture; pressing one walks there. */
export const Trail = memo(function Trail({ bench, narrow }: { bench: Bench; narrow: boolean }) {
  const { chart, steps, coming, pictures, at, unsaved } = useBench(bench, 'chart', 'steps', 'coming', 'pictures', 'at', 'unsaved')
  const [shown, setShown] = useState(false)
  if (narrow && !shown) return <Points bench={bench} show={() => setShown(true)} />
  return (
    <section
      aria-label="Trail"
      tabIndex={-1}
      className="flex outline-none h-[110px] shrink-0 items-center gap-4 border-t border-line bg-[color-mix(in_srgb,var(--wash)_93%,var(--verdigris))] px-4.5 dark:bg-wash"
    >
      <h2 className="rotate-180 font-serif text-sm text-ink/75 [writing-mode:vertical-rl]">Trail</h2>
      {steps.length + coming.length === 0 ? (
        <p className="text-ink/75">The first change you make begins the trail; nothing is lost by trying.</p>
      ) : (
        <ol className="flex min-w-0 flex-1 items-center overflow-x-auto py-2">
          {steps.map((step, i) => (
            <Stop
              key={i}
              words={step.words}
              here={step.id === at && coming.length === 0}
              first={i === 0}
              follows={step.parent_id === steps[i - 1]?.id}
              walk={() => bench.walkTo(step)}
            >
              {pictures.has(step.id) ? (
                <PictureAtHand svg={pictures.get(step.id)!} {...SMALL} />
              ) : (
                <ChartPicture chart={chart!.id} step={step.id} version={bench.version} {...SMALL} now={step.id === at} />
              )}
            </Stop>
          ))}
          {coming.map((step, i) => (
            <Stop
              key={steps.length + i}
              words={step.words}
              here={i === coming.length - 1}
              first={steps.length + i === 0}
              follows={i > 0 || at === steps.at(-1)?.id}
            >
              <PictureAtHand svg={step.picture} {...SMALL} />
            </Stop>
          ))}
        </ol>
      )}
      {narrow && (
        <button
          type="button"
          className="shrink-0 text-[13px] text-ink underline underline-offset-3 hover:text-copper"
          onClick={() => setShown(false)}
        >
          points
        </button>
      )}
      {unsaved && <Trouble message={`the last step was not kept: ${unsaved.message}`} advice={unsaved.advice} />}
      <p className="hidden shrink-0 text-right text-[13px] leading-6 text-ink/75 xl:block">
        <kbd className="rounded border border-line bg-paper px-1.5">←</kbd>{' '}
        <kbd className="rounded border border-line bg-paper px-1.5">→</kbd> walk the trail
      </p>
    </section>
  )
})

/** One step of the trail; without a way to walk there it is being kept. */
function Stop({
  words,
  here,
  first,
  follows,
  walk,
  children,
}: {
  words: string
  here: boolean
  first: boolean
  follows: boolean
  walk?: () => void
  children: ReactNode
}) {
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (here) item.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [here])
  return (
    <li ref={item} className="flex shrink-0 items-center">
      {!first && <span aria-hidden className={`h-px w-4 ${follows ? 'bg-verdigris' : 'border-t border-dashed border-muted'}`} />}
      <button
        type="button"
        aria-current={here ? 'step' : undefined}
        title={words}
        onClick={walk}
        className={`w-[106px] overflow-hidden rounded-lg border bg-paper ${here ? 'border-copper ring-1 ring-copper' : 'border-line hover:border-copper'}`}
      >
        {children}
        <span className={`block truncate px-1.5 pb-1 text-xs ${here ? 'font-semibold' : 'text-muted'}`}>{words}</span>
      </button>
    </li>
  )
}

/** The trail in a narrow window: named points. */
function Points({ bench, show }: { bench: Bench; show: () => void }) {
  const { steps, coming, at, unsaved } = useBench(bench, 'steps', 'coming', 'at', 'unsaved')
  const all = [
    ...steps.map((step) => ({ words: step.words, here: step.id === at && coming.length === 0, walk: () => void bench.walkTo(step) })),
    ...coming.map((step, i) => ({ words: step.words, here: i === coming.length - 1, walk: undefined })),
  ]
  return (
    <section
      aria-label="Trail"
      tabIndex={-1}
      className="flex outline-none h-10 shrink-0 items-center gap-4 border-t border-line bg-[color-mix(in_srgb,var(--wash)_93%,var(--verdigris))] px-4.5 text-[13px] dark:bg-wash"
    >
      <h2 className="font-serif text-sm text-ink/75">Trail</h2>
      {all.length === 0 && <p className="min-w-0 flex-1 truncate text-ink/75">The first change you make begins the trail.</p>}
      <ol className="flex h-full min-w-0 flex-1 items-center overflow-x-auto">
        {all.map(({ words, here, walk }, i) => (
          <li key={i} className="flex shrink-0 items-center">
            {i > 0 && <span aria-hidden className="mx-2 h-px w-4 bg-verdigris" />}
            <button
              type="button"
              aria-current={here ? 'step' : undefined}
              title={words}
              onClick={walk}
              className={`flex items-center gap-1.5 whitespace-nowrap ${here ? 'font-semibold' : 'text-ink/75 hover:text-copper'}`}
            >
              <span aria-hidden className={`size-2 rounded-full border ${here ? 'border-copper bg-copper' : 'border-muted'}`} />
              {words}
            </button>
          </li>
        ))}
      </ol>
      {unsaved && <Trouble message={`the last step was not kept: ${unsaved.message}`} advice={unsaved.advice} />}
      <button type="button" className="shrink-0 text-ink underline underline-offset-3 hover:text-copper" onClick={show}>
        pictures
      </button>
    </section>
  )
}
