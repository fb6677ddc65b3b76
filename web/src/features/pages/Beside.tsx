import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { api, type FoundChart, type PageDrawing } from '../../api/client'
import { ChartPicture } from '../chart/ChartPicture'
import { Said } from '../chart/Said'
import { CHART_DRAGGED } from './Sheet'

/** How many charts are shown before "more" is pressed. */
const FEW = 6
/** How many are looked through. */
const MOST = 120

/** Beside a page that is written: the charts that can be put in, and what the reading of the block's chart says. */
export function Beside({
  put,
  drawing,
  say,
}: {
  put: (chart: Pick<FoundChart, 'id'>) => void
  drawing: PageDrawing | null
  say: (key: string, words: string) => void
}) {
  const [find, setFind] = useState('')
  const [all, setAll] = useState(false)
  const looking = useDeferredValue(find)
  const charts = useQuery({
    queryKey: ['charts', 'beside', looking],
    queryFn: () => api.findCharts({ find: looking, limit: MOST }),
    placeholderData: (before) => before,
  })
  const found = [...(charts.data?.charts ?? [])].sort((a, b) => Number(b.named || b.shared) - Number(a.named || a.shared))
  const shown = all || find ? found : found.slice(0, FEW)
  return (
    <aside
      aria-label="What can be put in"
      className="w-[300px] shrink-0 overflow-auto border-l border-line bg-strip px-4.5 py-4 slim:w-full slim:border-t slim:border-l-0"
    >
      <h2 className="mb-2 font-serif text-[17px] font-semibold">Charts of this space</h2>
      <input
        className="field mb-3"
        type="search"
        id="find-a-chart"
        aria-label="Find a chart"
        placeholder="Find a chart"
        value={find}
        onChange={(e) => setFind(e.target.value)}
      />
      {charts.data?.total === 0 && !find && (
        <p className="text-muted">There are no charts yet: open a dataset, and its first look is one.</p>
      )}
      <ul className="grid grid-cols-2 gap-[11px]">
        {shown.map((chart) => (
          <li key={chart.id}>
            <button
              type="button"
              draggable
              className="group w-full text-left"
              onClick={() => put(chart)}
              onDragStart={(e) => e.dataTransfer.setData(CHART_DRAGGED, String(chart.id))}
            >
              <span className="relative block overflow-hidden rounded-lg border border-line group-hover:border-copper group-hover:outline group-hover:outline-copper group-focus-visible:border-copper">
                <ChartPicture chart={chart.id} step={chart.head_step_id} version={chart.version_id} width={126} height={70} />
                <span className="absolute right-1.5 bottom-1.5 hidden rounded-md bg-copper-bright px-2 py-0.5 text-[12px] font-semibold text-[#1a1207] group-hover:block group-focus-visible:block">
                  put in
                </span>
              </span>
              <span className="mt-1 line-clamp-2 text-[12px] leading-[15px] font-medium wrap-anywhere">{chart.name}</span>
            </button>
          </li>
        ))}
      </ul>
      {shown.length > 0 && <p className="mt-2 text-[12px] text-muted">Press one to put it after this block, or drag it.</p>}
      {found.length > shown.length && (
        <button type="button" className="link text-[12.5px]" onClick={() => setAll(true)}>
          {found.length - shown.length} more
        </button>
      )}
      {find && found.length === 0 && <p className="text-muted">No chart has these words.</p>}
      {drawing && (
        <section className="mt-4 border-t border-line pt-3" aria-label="Say from the reading">
          <h2 className="font-serif text-[17px] font-semibold">Say from the reading</h2>
          <p className="mb-1 text-[12px] text-muted">of this block’s chart; press one to write it at the caret, or press what is bold</p>
          <ul className="-mx-2">
            {drawing.reading.paragraphs.map((p, i) => {
              const said = drawing.said.filter((s) => s.of === i)
              const whole = said[0]
              return (
                whole && (
                  <li
                    key={whole.key}
                    className="flex gap-1 rounded-md px-2 py-1.5 font-serif text-[13.5px] leading-[19px] hover:bg-copper-wash"
                  >
                    <span aria-hidden className="tie-sign mt-1 shrink-0" />
                    <span>
                      <button type="button" className="text-left" onClick={() => say(whole.key, whole.text)}>
                        <Said spans={p.spans} />
                      </button>{' '}
                      {said.slice(1).map((s) => (
                        <button
                          key={s.key}
                          type="button"
                          className="link mr-2 min-h-6 font-sans text-[12px]"
                          onClick={() => say(s.key, s.text)}
                        >
                          {s.text}
                        </button>
                      ))}
                    </span>
                  </li>
                )
              )
            })}
          </ul>
          <Fits drawing={drawing} say={say} />
        </section>
      )}
    </aside>
  )
}

/** The table of fits, each number of which can be put in. */
function Fits({ drawing, say }: { drawing: PageDrawing; say: (key: string, words: string) => void }) {
  const { fits, slope_unit } = drawing.reading
  const cells = drawing.said.filter((s) => s.of < 0)
  const shown = fits.filter((f) => !f.problem)
  if (shown.length === 0) return null
  const keyOf = (text: string, from: number) => cells.findIndex((c, i) => i >= from && c.text === text)
  let at = 0
  return (
    <table className="mt-2 w-full text-[12.5px] tabular-nums">
      <thead className="text-left text-muted">
        <tr>
          <th scope="col" className="font-normal">
            Fits
          </th>
          <th scope="col" className="text-right font-normal">
            {slope_unit}
          </th>
          <th scope="col" className="text-right font-normal">
            95 % interval
          </th>
        </tr>
      </thead>
      <tbody>
        {shown.map((f, i) => (
          <tr key={i}>
            <th scope="row" className="max-w-20 truncate text-left font-normal" title={f.name}>
              {f.name}
            </th>
            {[f.slope, f.interval].map((text) => {
              const found = keyOf(text, at)
              if (found >= 0) at = found + 1
              return (
                <td key={text} className="py-0.5 text-right">
                  {found >= 0 && (
                    <button type="button" className="min-h-6 hover:text-copper hover:underline" onClick={() => say(cells[found].key, text)}>
                      {text}
                    </button>
                  )}
                </td>
              )
            })}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
