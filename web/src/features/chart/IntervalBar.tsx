interface Place {
  at?: number
  low: number
  high: number
  beyond?: boolean
}

interface Tick {
  at: number
  label: string
}

/** Where zero stands on an axis; undefined: beyond it. */
export const zeroOf = (ticks: Tick[]): number | undefined => ticks.find((t) => /^0(\.0*)?$/.test(t.label))?.at

/** An interval with its estimate on an axis that several share, and the axis's zero. */
export function IntervalBar({
  place,
  ticks,
  colours,
  upright,
}: {
  place: Place
  ticks: Tick[]
  colours: [string | undefined, string][]
  upright?: boolean
}) {
  const zero = zeroOf(ticks)
  return (
    <svg width="100%" height={18} aria-hidden className="overflow-visible">
      {zero !== undefined && <line x1={`${100 * zero}%`} x2={`${100 * zero}%`} y1={-5} y2={23} stroke="var(--line)" strokeWidth={1.5} />}
      {place.at !== undefined &&
        colours.map(([colour, when]) => (
          <g key={when} className={when} fill={colour} stroke={colour}>
            <line
              x1={`${100 * place.low}%`}
              x2={`${100 * place.high}%`}
              y1={9}
              y2={9}
              strokeWidth={5}
              strokeOpacity={0.4}
              strokeDasharray={place.beyond ? '4 2' : undefined}
            />
            {upright ? (
              <line x1={`${100 * place.at!}%`} x2={`${100 * place.at!}%`} y1={2} y2={16} strokeWidth={2.5} />
            ) : (
              <circle cx={`${100 * place.at!}%`} cy={9} r={3.5} />
            )}
          </g>
        ))}
    </svg>
  )
}

/** The labels of such an axis. */
export const IntervalTicks = ({ ticks }: { ticks: Tick[] }) => (
  <span aria-hidden className="relative block h-4 text-xs text-muted">
    {ticks.map((tick) => (
      <span key={tick.label} className="absolute -translate-x-1/2" style={{ left: `${100 * tick.at}%` }}>
        {tick.label}
      </span>
    ))}
  </span>
)
