import { memo, useCallback, useEffect, useMemo, useState } from 'react'
import type { Step } from '../../api/client'
import { counted } from '../../scale/format'
import { Trouble } from '../../ui/Words'
import type { Bench } from '../../state/bench'
import { shapeOf, type TrailShape } from '../../state/trail'
import { useBench } from '../../state/useBench'
import { splitBy } from './useComparing'
import type { ChartNotes } from '../notes/useChartNotes'
import type { TogetherHand } from './useTogether'
import { announce } from '../../ui/title'
import { takesSingleKeys } from '../../ui/singleKeys'
import { LINK, Tree } from './TrailTree'

/** Every change of the chart as a step with its small picture; pressing one walks there. */
export const Trail = memo(function Trail({
  bench,
  narrow,
  compare,
  overall,
  together,
  notes,
}: {
  bench: Bench
  narrow: boolean
  /** Lays the chart beside the same without its groups. */
  overall?: () => Promise<void>
  together: TogetherHand
  notes: ChartNotes
  /** Lays a step beside where the chart stands: the one before, unless one is said. */
  compare: (step?: number) => Promise<void>
}) {
  const { steps, coming, at, unsaved } = useBench(bench, 'steps', 'coming', 'at', 'unsaved')
  const { document } = useBench(bench, 'document')
  const [shown, setShown] = useState(false)
  const [unfolded, setUnfolded] = useState<ReadonlySet<number>>(new Set())
  const [out, setOut] = useState<{ step: Step; count: number } | null>(null)
  const shape = useMemo(() => shapeOf(steps, at, unfolded), [steps, at, unfolded])
  useBranchKeys(bench, shape)
  const branchHere = useBranching(bench)
  if (narrow && !shown) return <Points bench={bench} show={() => setShown(true)} />
  const forked = shape.branches.length > 0
  const take = async (step: Step) => setOut({ step, count: await bench.takeOut(step) })
  const { others, fresh } = together
  const hand = { bench, compare, take: (step: Step) => void take(step), others, fresh, notes }
  return (
    <section
      aria-label="Trail"
      tabIndex={-1}
      className={`flex outline-none shrink-0 items-center gap-4 border-t border-line bg-[color-mix(in_srgb,var(--wash)_93%,var(--verdigris))] px-4.5 dark:bg-wash ${forked ? 'h-[162px]' : 'h-[110px]'}`}
    >
      <h2 className="rotate-180 font-serif text-sm text-ink/75 [writing-mode:vertical-rl]">Trail</h2>
      {steps.length + coming.length === 0 ? (
        <p className="text-ink/75">The first change you make begins the trail; nothing is lost by trying.</p>
      ) : (
        <Tree shape={shape} at={at} coming={coming} hand={hand} unfold={(first) => setUnfolded(new Set(unfolded).add(first))} />
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
      {out && (
        <p role="status" className="shrink-0 text-[13px]">
          {counted(out.count, 'step')} taken out ·{' '}
          <button type="button" className={LINK} onClick={() => void bench.putBack(out.step.id).then(() => setOut(null))}>
            put back
          </button>
        </p>
      )}
      <News bench={bench} together={together} compare={compare} />
      {unsaved && <Trouble message={`the last step was not kept: ${unsaved.message}`} advice={unsaved.advice} />}
      <Keys
        several={steps.length > 1}
        forked={forked}
        compare={() => void compare()}
        overall={overall && splitBy(document) ? () => void overall() : undefined}
        branch={bench.marks ? branchHere : undefined}
      />
    </section>
  )
})

/** What others just did, and whether the server answers. */
function News({ bench, together, compare }: { bench: Bench; together: TogetherHand; compare: (step?: number) => Promise<void> }) {
  const { connected, fresh, seen } = together
  if (!connected)
    return (
      <p role="status" className="max-w-48 shrink-0 text-[13px] text-copper">
        No connection: what others do is not seen, what you do is kept once it is back.
      </p>
    )
  if (!fresh) return null
  return (
    <p role="status" className="max-w-56 shrink-0 text-[13px]">
      {fresh.by} made a step, “{fresh.words}”:{' '}
      <button
        type="button"
        className={LINK}
        onClick={() => {
          seen()
          void bench.walkTo(fresh)
        }}
      >
        look at it
      </button>{' '}
      or{' '}
      <button type="button" className={LINK} onClick={() => void compare(fresh.id)}>
        lay it beside yours
      </button>
    </p>
  )
}

function Keys({
  several,
  forked,
  compare,
  overall,
  branch,
}: {
  several: boolean
  forked: boolean
  compare: () => void
  overall?: () => void
  branch?: () => void
}) {
  const key = (name: string) => <kbd className="rounded border border-line bg-paper px-1.5">{name}</kbd>
  return (
    <p className="hidden shrink-0 text-right text-[13px] leading-6 text-ink/75 xl:block">
      {key('←')} {key('→')} walk {forked ? 'this branch' : 'the trail'}
      {forked && (
        <>
          <br />
          {key('↑')} {key('↓')} change branch
        </>
      )}
      {branch && (
        <>
          <br />
          <button
            type="button"
            className={LINK}
            title="Keeps this step in sight: what you change here begins a branch, and this leads back to it"
            onClick={branch}
          >
            branch from here
          </button>{' '}
          {key('B')}
        </>
      )}
      {several && (
        <>
          <br />
          <button type="button" className={LINK} title="Or drag a step onto the chart" onClick={compare}>
            compare
          </button>{' '}
          {key('C')}
        </>
      )}
      {overall && (
        <>
          <br />
          <button type="button" className={LINK} onClick={overall}>
            overall beside groups
          </button>
        </>
      )}
    </p>
  )
}

/** B keeps the step where one stands in sight, as where branches begin: a pin, which the trail does not fold away. */
function useBranching(bench: Bench): () => void {
  const here = useCallback(() => {
    const { steps, at } = bench.get()
    const step = steps.find((s) => s.id === at)
    if (!step) return
    if (!step.pinned) void bench.mark(step, { pinned: true })
    announce(`What you change here begins a branch from “${step.name || step.words}”`)
  }, [bench])
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      if (e.key.toLowerCase() !== 'b' || e.defaultPrevented || e.altKey || e.ctrlKey || e.metaKey || !bench.marks) return
      if (target.closest('canvas') || !takesSingleKeys(target)) return // on the chart it chooses rows
      e.preventDefault()
      here()
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [bench, here])
  return here
}

/** Up and down walk to the end of another branch, where the sentence or the trail has the focus. */
function useBranchKeys(bench: Bench, { ends }: TrailShape) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      const way = { ArrowUp: -1, ArrowDown: 1 }[e.key]
      if (!way || ends.length < 2 || e.defaultPrevented || e.altKey || e.ctrlKey || e.metaKey) return
      if (target.closest('canvas, [role=menu], [role=listbox]') || !takesSingleKeys(target)) return
      e.preventDefault()
      // In the order in which they were made, so that one key goes through all and the other back.
      const all = [...ends].sort((a, b) => a.id - b.id)
      const here = all.findIndex((end) => end.id === ends[0].id)
      void bench.walkTo(all[(here + way + all.length) % all.length])
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [bench, ends])
}

/** The trail in a narrow window: named points. */
function Points({ bench, show }: { bench: Bench; show: () => void }) {
  const { steps, coming, at, unsaved } = useBench(bench, 'steps', 'coming', 'at', 'unsaved')
  const all = [
    ...steps.map((step) => ({
      words: step.name || step.words,
      here: step.id === at && coming.length === 0,
      walk: () => void bench.walkTo(step),
    })),
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
