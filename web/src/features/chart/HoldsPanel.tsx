import { useQuery } from '@tanstack/react-query'
import { useRef } from 'react'
import { api } from '../../api/client'
import { useFocusHere } from '../../ui/focus'
import type { Bench } from '../../state/bench'
import { IntervalBar, IntervalTicks } from './IntervalBar'
import { AskBeside, exactOf } from '../elsewhere/AskBeside'
import { OneBasis } from '../../ui/BasisSign'
import { Said } from './Said'
import { useBench } from '../../state/useBench'

const LOOKS: Record<string, string> = {
  agrees: 'var(--verdigris)',
  'not clear': 'var(--muted)',
  'other way': 'var(--copper)',
  nothing: 'var(--muted)',
}

/** The slope on screen looked at in many ways, as one picture of intervals. */
export function HoldsPanel({ bench, sample, asks, close }: { bench: Bench; sample: string; asks: boolean; close: () => void }) {
  const { drawing } = useBench(bench, 'drawing')
  const relation = drawing?.relation
  const found = useQuery({
    queryKey: ['holds', bench.version, relation],
    queryFn: ({ signal }) => api.holds(bench.version, relation!, signal),
    enabled: relation !== undefined,
    staleTime: Infinity,
  })
  const shown = found.data
  const ticks = shown?.ticks ?? []
  const panel = useRef<HTMLElement>(null)
  useFocusHere(panel, true)
  return (
    <aside
      ref={panel}
      aria-label="Does it hold?"
      tabIndex={0}
      className="w-[532px] shrink-0 overflow-auto border-l border-line bg-strip px-5.5 py-4 max-[1100px]:w-[440px] slim:w-full slim:border-t slim:border-l-0"
    >
      <nav className="flex items-baseline gap-2 text-[13px] text-muted">
        <button type="button" className="link" onClick={close}>
          Reading
        </button>
        <span aria-hidden>›</span> Does it hold?
      </nav>
      <h2 className="mt-2 font-serif text-[22px] font-semibold">Does it hold?</h2>
      {drawing?.figure.elsewhere && relation && (
        <AskBeside
          bench={bench}
          whole={shown?.elsewhere}
          asker={{ document: relation, for: 'checks' }}
          exact={exactOf((shown?.rows ?? []).map((row) => row.basis))}
          sample={sample}
          asks={asks}
        />
      )}
      {found.error && <p className="mt-2 text-copper">{found.error.message}</p>}
      {found.isPending && (
        <p role="status" className="mt-2 text-muted">
          Looking in every way…
        </p>
      )}
      {shown?.problem && <p className="mt-1.5 font-serif text-base">Nothing can be told: {shown.problem}.</p>}
      {shown && !shown.problem && (
        <>
          <p className="mt-1.5 font-serif text-base leading-[1.45]">
            <Said spans={shown.words} />
          </p>
          {shown.named && <p className="mt-1.5 text-[13px] text-muted">{shown.named}</p>}
          <table className="mt-3 w-full text-[13px] tabular-nums">
            <thead className="text-muted">
              <tr>
                <th scope="col" className="py-1 text-left align-bottom font-normal">
                  looked at
                </th>
                {['n', 'slope', '95 % interval'].map((head) => (
                  <th key={head} scope="col" className="py-1 pl-2 text-right align-bottom font-normal whitespace-nowrap">
                    {head}
                  </th>
                ))}
                <th scope="col" className="py-1 pl-3 text-left align-bottom font-normal">
                  {shown.unit}
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.rows?.map((row, i) => (
                <tr key={i} className={i === 0 ? 'border-b border-line font-semibold' : ''}>
                  <th
                    scope="row"
                    className={`max-w-44 py-1 text-left leading-[1.25] max-[1100px]:max-w-32 ${i === 0 ? 'font-semibold' : 'font-normal'}`}
                  >
                    {row.name}&nbsp;
                    <OneBasis basis={row.basis} sample={sample} />
                  </th>
                  {row.problem ? (
                    <td colSpan={4} className="py-1 pl-2 text-right text-muted">
                      {row.problem}
                    </td>
                  ) : (
                    <>
                      <td className="py-1 pl-2 text-right">{row.n}</td>
                      <td className={`py-1 pl-2 text-right font-semibold ${row.says === 'other way' ? 'text-copper' : ''}`}>{row.slope}</td>
                      <td className="py-1 pl-2 text-right whitespace-nowrap">{row.interval}</td>
                      <td className="w-28 pl-3 max-[1100px]:w-20">
                        <IntervalBar
                          place={row}
                          ticks={ticks}
                          colours={[[i === 0 ? 'var(--ink)' : LOOKS[row.says], '']]}
                          upright={i === 0}
                        />
                      </td>
                    </>
                  )}
                </tr>
              ))}
            </tbody>
            <tfoot>
              <tr>
                <td colSpan={4} />
                <td className="pl-3">
                  <IntervalTicks ticks={ticks} />
                </td>
              </tr>
            </tfoot>
          </table>
          <p className="mt-3 text-[13px] leading-[1.4] text-muted">
            A slope that holds in every way can still be made by a cause outside this table. These ways overlap: they are one look from many
            sides, no tests of their own.
          </p>
        </>
      )}
    </aside>
  )
}
