import type { Pair } from '../../api/pairs'

/** The two correlations as bars from zero in the middle: overall above, within groups below. */
export function Bars({ pair, by, height }: { pair: Pair; by?: string; height: number }) {
  const rows = [
    [pair.r, 'var(--ink)'] as const,
    ...(by ? [[pair.within, pair.within < 0 ? 'var(--copper)' : 'var(--verdigris)'] as const] : []),
  ]
  const each = height / rows.length
  return (
    <svg width="100%" height={height} aria-hidden className="block">
      {rows.map(([r, colour], i) => (
        <rect
          key={i}
          x={`${50 + 50 * Math.min(r, 0)}%`}
          style={{ width: `max(1px, ${50 * Math.abs(r)}%)` }}
          y={i * each + 1}
          height={each - 2}
          rx={1.5}
          fill={colour}
        />
      ))}
    </svg>
  )
}
