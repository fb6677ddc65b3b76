import { Fragment } from 'react'
import type { Comparison, PageDrawing } from '../../api/client'
import { inThemes } from '../../ui/themes'
import { IntervalTicks, zeroOf } from '../chart/IntervalBar'
import { Letter } from './Letter'

type Fit = Comparison['slopes']['fits'][0]

/** The slopes of both charts beside each other, with their differences. */
export function Slopes({ slopes, drawings }: { slopes: Comparison['slopes']; drawings: (PageDrawing | null)[] }) {
  if (slopes.problem) return <p className="text-[13px] text-muted">Slopes are not compared: {slopes.problem}.</p>
  const coloursOf = (fit: Fit) => {
    const row = drawings
      .flatMap((d) => d?.reading.fits ?? [])
      .find((r) => r.group < 0 === !!fit.overall && (fit.overall || r.name === fit.name))
    return inThemes(row?.light, row?.dark)
  }
  return (
    <>
      <table className="w-full min-w-[660px] text-[13px] tabular-nums">
        <thead className="text-left text-muted">
          <tr className="*:pb-1 *:font-normal">
            <th scope="col">{slopes.unit}</th>
            {(['A', 'B'] as const).map((side) => (
              <Fragment key={side}>
                <th scope="col" className="text-right">
                  <Letter of={side} />
                </th>
                <th scope="col" className="text-right">
                  95 % interval
                </th>
                <th scope="col" className="text-right">
                  n
                </th>
              </Fragment>
            ))}
            <th scope="col" className="pl-3 text-right">
              B − A
            </th>
            <th scope="col" className="text-right">
              95 % interval
            </th>
            <th scope="col" className="w-[26%] min-w-32 pl-5">
              <span className="sr-only">Slopes on one axis: a ring for A, a disc for B</span>
              <IntervalTicks ticks={slopes.ticks ?? []} />
            </th>
          </tr>
        </thead>
        <tbody>
          {slopes.fits.map((fit) => (
            <tr key={`${fit.overall} ${fit.name}`} className="*:py-0.5">
              <th scope="row" className="max-w-40 truncate pr-2 text-left font-medium" title={fit.name}>
                <Sign overall={!!fit.overall} colours={coloursOf(fit)} /> {fit.name}
              </th>
              <Told told={fit.a} />
              <Told told={fit.b} />
              <td className={`pl-3 text-right font-semibold ${fit.clear ? 'text-copper' : ''}`}>{fit.difference ?? '–'}</td>
              <td className="text-right whitespace-nowrap text-muted">{fit.interval}</td>
              <td className="pl-5">
                <Pair fit={fit} ticks={slopes.ticks ?? []} colours={coloursOf(fit)} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1.5 text-[13px] text-muted">{slopes.words}</p>
    </>
  )
}

function Told({ told }: { told: Fit['a'] }) {
  if (!told)
    return (
      <td colSpan={3} className="text-right text-muted">
        no such line
      </td>
    )
  return (
    <>
      <td className="text-right font-semibold">{told.slope}</td>
      <td className="text-right whitespace-nowrap text-muted">{told.interval}</td>
      <td className="text-right text-muted">{told.n}</td>
    </>
  )
}

function Sign({ overall, colours }: { overall: boolean; colours: [string | undefined, string][] }) {
  return (
    <svg width={14} height={10} aria-hidden className="mr-1 inline-block">
      {overall ? (
        <path d="M0 5h5M8 5h5" stroke="var(--ink)" strokeWidth={2} />
      ) : (
        colours.map(([colour, when]) => <rect key={when} className={when} x={2} width={10} height={10} rx={2.5} fill={colour} />)
      )}
    </svg>
  )
}

/** Both slopes with their intervals on the axis that all rows share. */
function Pair({ fit, ticks, colours }: { fit: Fit; ticks: { at: number; label: string }[]; colours: [string | undefined, string][] }) {
  const zero = zeroOf(ticks)
  return (
    <svg width="100%" height={18} aria-hidden className="overflow-visible">
      {zero !== undefined && <line x1={`${100 * zero}%`} x2={`${100 * zero}%`} y1={-2} y2={20} stroke="var(--ink)" strokeWidth={1} />}
      {(fit.overall ? inThemes('#16302e', '#e3efec') : colours).map(([colour, when]) => (
        <g key={when} className={when} stroke={colour} fill={colour}>
          {[fit.a, fit.b].map(
            (told, i) =>
              told?.place.at !== undefined && (
                <g key={i}>
                  <line
                    x1={`${100 * told.place.low}%`}
                    x2={`${100 * told.place.high}%`}
                    y1={5 + 8 * i}
                    y2={5 + 8 * i}
                    strokeWidth={2.5}
                    strokeOpacity={0.5}
                    strokeDasharray={told.place.beyond ? '4 2' : undefined}
                  />
                  <circle cx={`${100 * told.place.at}%`} cy={5 + 8 * i} r={3.5} strokeWidth={1.8} fill={i === 0 ? 'var(--wash)' : colour} />
                </g>
              ),
          )}
        </g>
      ))}
    </svg>
  )
}
