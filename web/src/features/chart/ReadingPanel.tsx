import { memo, type ReactNode } from 'react'
import { inThemes } from '../../ui/themes'
import { textLine } from '../../sentence/lines'
import { noteOf } from '../../sentence/ties'
import { AskAside } from './AskAside'
import { Explanations } from './Explanations'
import { pictureOf, type Bench } from '../../state/bench'
import { Said } from './Said'
import { BasisSign, OneBasis } from '../../ui/BasisSign'
import { SampleSign } from '../../ui/SampleSign'
import { useBench } from '../../state/useBench'

/** Beside the chart, in words and numbers: what it shows and what could be wrong with it. */
export const ReadingPanel = memo(function ReadingPanel({
  bench,
  examine,
  check,
  aside,
  drawn,
  sample,
  asked,
  asks,
  notes,
  close,
}: {
  bench: Bench
  aside: boolean
  /** Which rows of a larger table these are; empty: all that there were. */
  drawn: string
  /** How many rows the sample has, where the table stays elsewhere. */
  sample: string
  /** What all rows were asked. */
  asked: ReactNode
  /** Whether all rows of such a table may be asked. */
  asks: boolean
  examine: (column: string) => void
  check: () => void
  notes: ReactNode
  close?: () => void
}) {
  const shown = useBench(bench, 'drawing', 'preview', 'lit')
  const { drawing } = shown
  const reading = pictureOf(shown)?.reading
  return (
    <aside
      aria-label="Reading"
      tabIndex={0}
      className="w-[344px] shrink-0 overflow-auto border-l border-line slim:w-full slim:border-t slim:border-l-0 bg-strip px-4.5 py-4"
    >
      <div className="flex items-baseline justify-between">
        <h2 className="mb-1.5 font-serif text-[17px] font-semibold">Reading</h2>
        {close && (
          <button type="button" className="link text-[13px]" onClick={close}>
            Close
          </button>
        )}
      </div>
      {reading?.paragraphs.map((p, i) => (
        <div
          key={i}
          className={`mb-2 text-[14.5px] leading-[1.45] ${p.kind === 'warning' ? 'border-l-3 border-copper py-0.5 pl-3' : ''} ${p.kind === 'caution' ? 'text-muted' : ''}`}
        >
          {p.shows ? (
            <button
              type="button"
              className={`-mx-1 rounded px-1 text-left ${p.shows === shown.lit ? 'bg-copper-wash' : 'hover:bg-copper-wash'}`}
              aria-pressed={p.shows === shown.lit}
              title="Show on the chart what this speaks of"
              onClick={() => bench.light(p.shows!)}
            >
              <Said spans={p.spans} />
            </button>
          ) : (
            <Said spans={p.spans} />
          )}
          {p.basis && <BasisSign basis={p.basis} sample={sample} />}
          {p.offers && ' '}
          {p.offers?.map((offer) => (
            <button key={offer.clause} type="button" className="link" onClick={() => void bench.amend({ say: [offer.clause] })}>
              {offer.words}
            </button>
          ))}
        </div>
      ))}
      {drawn && !drawing?.figure.elsewhere && (
        <div className="mb-2">
          <SampleSign drawn={drawn} />
        </div>
      )}
      {drawing && reading && reading.paragraphs.length > 0 && !drawing.document.manner?.note && (
        <button
          type="button"
          className="link mb-2 text-[13px]"
          title="What is said becomes the chart's note, which you can edit: it stands below the chart, follows what the reading says, and goes with a share"
          onClick={() => void bench.amend({ say: textLine('note', noteOf(reading)) })}
        >
          Take this as the chart’s note
        </button>
      )}
      {asked}
      {notes}
      {drawing && <Explanations bench={bench} drawing={drawing} examine={examine} check={check} sample={sample} asks={asks} />}
      {aside && drawing && <AskAside bench={bench} />}
      {reading && reading.fits.length > 0 && (
        <section className="mt-3 border-t border-line pt-3">
          <h3 className="mb-1 font-serif text-[17px] font-semibold">Fits</h3>
          <table className="w-full text-[13px] tabular-nums">
            <thead className="text-left text-muted">
              <tr>
                <th className="font-normal">
                  <span className="sr-only">Rows of</span>
                </th>
                <th scope="col" className="py-1 pl-2 text-right font-normal">
                  {reading.slope_unit}
                </th>
                <th scope="col" className="py-1 pl-2 text-right font-normal">
                  95 % interval
                </th>
                <th scope="col" className="py-1 pl-2 text-right font-normal">
                  n
                </th>
              </tr>
            </thead>
            <tbody>
              {reading.fits.map((fit, i) => (
                <tr key={i} className={fit.group < 0 ? 'font-semibold' : ''}>
                  <th scope="row" className="max-w-28 py-1 text-left font-[inherit]">
                    <span className="flex items-center gap-2">
                      <Swatch light={fit.light} dark={fit.dark} overall={fit.group < 0} dashed={!!fit.dash?.length} />
                      <span className="truncate" title={fit.name}>
                        {fit.name}
                      </span>
                    </span>
                  </th>
                  {fit.problem ? (
                    <td colSpan={3} className="py-1 text-right text-copper">
                      no fit: {fit.problem}
                    </td>
                  ) : (
                    <>
                      <td className="py-1 pl-2 text-right">{fit.slope}</td>
                      <td className="py-1 pl-2 text-right whitespace-nowrap">{fit.interval}</td>
                      <td className="py-1 pl-2 text-right">
                        {fit.n} <OneBasis basis={fit.basis} sample={sample} />
                      </td>
                    </>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </aside>
  )
})

/** The reading in a narrow window: its first two paragraphs under the chart, the rest in a press. */
export function ReadingStrip({ bench, open, setOpen }: { bench: Bench; open: boolean; setOpen: (open: boolean) => void }) {
  const paragraphs = pictureOf(useBench(bench, 'drawing', 'preview'))?.reading.paragraphs ?? []
  const warned = paragraphs.some((p) => p.kind === 'warning')
  return (
    <section
      aria-label="Reading in short"
      className={`mx-4.5 mb-1.5 flex shrink-0 items-center gap-4 rounded-xl border border-line bg-strip px-4 py-1 text-[13.5px] leading-[1.4] ${warned ? 'border-l-3 border-l-copper' : ''}`}
    >
      <p className="line-clamp-2 min-w-0 flex-1">
        <strong className="mr-1.5 font-serif text-[15px] font-semibold">Reading</strong>
        {paragraphs.slice(0, 2).map((p, i) => (
          <span key={i}>
            <Said spans={p.spans} />{' '}
          </span>
        ))}
      </p>
      <button type="button" className="link shrink-0" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'close' : 'fits, what else'}
      </button>
    </section>
  )
}

/** The sign of a fit: a line, drawn as on the chart, for all rows; the colour of its group for the others. */
function Swatch({ light, dark, overall, dashed }: { light?: string; dark?: string; overall: boolean; dashed: boolean }) {
  return (
    <svg width={10} height={10} viewBox="0 0 10 10" aria-hidden className="shrink-0">
      {inThemes(light, dark).map(([colour, when]) =>
        overall ? (
          <path key={when} className={when} d={dashed ? 'M0 5h4M6 5h4' : 'M0 5h10'} stroke={colour} strokeWidth={2} />
        ) : (
          <rect key={when} className={when} width={10} height={10} rx={2.5} fill={colour} />
        ),
      )}
    </svg>
  )
}
