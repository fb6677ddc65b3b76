import type { ColumnProfile } from '../api/client'
import { isSpread } from './kinds'

interface Props {
  column: ColumnProfile
  width?: number
  height?: number
  named?: boolean
  /** Called with the number of the bar that was pressed; a menu must offer the same to keys. */
  press?: (bar: number) => void
}

/** The small picture of a column: bars along for groups, a row of bars for numbers. */
export function ColumnPicture({ column, width = 44, height = 20, named = false, press }: Props) {
  const bars = column.bars ?? []
  const most = Math.max(1, ...bars.map((b) => b.count))
  const grouped = !isSpread(column.kind)
  if (column.kind === 'text' && column.distinct > 60) return null
  const drawn = grouped ? bars.slice(0, 6) : bars
  const gap = 1
  const pressing = (i: number) => (press ? { onClick: () => press(i), className: 'cursor-pointer hover:text-copper', 'data-bar': i } : {})
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden
      className={grouped ? 'overflow-visible text-[#bd7340] dark:text-[#c98a5c]' : 'overflow-visible text-[#56978c]'}
    >
      {drawn.map((bar, i) => {
        if (!grouped) {
          const w = width / drawn.length
          const h = (bar.count / most) * (height - 1)
          return (
            <g key={i} {...pressing(i)}>
              {press && <rect x={i * w} y={0} width={w} height={height} fill="transparent" />}
              <rect x={i * w} y={height - h} width={Math.max(0.5, w - gap)} height={h} fill="currentColor" />
            </g>
          )
        }
        const h = Math.min(7, height / drawn.length)
        const full = named ? width * 0.55 : width
        return (
          <g key={i} {...pressing(i)}>
            <rect x={0} y={i * h} width={(bar.count / most) * full} height={Math.max(1, h - gap)} fill="currentColor" />
            {press && <rect x={0} y={i * h} width={width} height={h} fill="transparent" />}
            {named && h >= 5 && (
              <text x={(bar.count / most) * full + 4} y={i * h + h - 1.5} fontSize={8.5} className="fill-muted">
                {bar.name}
              </text>
            )}
          </g>
        )
      })}
    </svg>
  )
}
