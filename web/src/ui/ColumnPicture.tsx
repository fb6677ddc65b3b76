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
  if (grouped && named) return <NamedBars bars={bars} most={most} width={width} height={height} press={press} />
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
        return (
          <g key={i} {...pressing(i)}>
            <rect x={0} y={i * h} width={(bar.count / most) * width} height={Math.max(1, h - gap)} fill="currentColor" />
            {press && <rect x={0} y={i * h} width={width} height={h} fill="transparent" />}
          </g>
        )
      })}
    </svg>
  )
}

/** How high the line of a named bar is, in pixels: its name must not stand over the next. */
const NAMED_LINE = 11

/** The most frequent groups, as many as have a line each for their names. */
function NamedBars({
  bars,
  most,
  width,
  height,
  press,
}: Required<Pick<Props, 'width' | 'height'>> & Pick<Props, 'press'> & { bars: NonNullable<ColumnProfile['bars']>; most: number }) {
  const largest = bars
    .map((bar, i) => ({ ...bar, i }))
    .sort((a, b) => b.count - a.count)
    .slice(0, Math.max(1, Math.floor(height / NAMED_LINE)))
  return (
    <span aria-hidden className="block overflow-hidden text-[10px]" style={{ width, height, lineHeight: `${NAMED_LINE}px` }}>
      {largest.map(({ name, count, i }) => (
        <span
          key={i}
          data-bar={i}
          className={`flex items-center gap-1 text-[#bd7340] dark:text-[#c98a5c] ${press ? 'cursor-pointer hover:text-copper' : ''}`}
          onClick={press && (() => press(i))}
        >
          <span
            className="h-[6px] shrink-0 bg-current forced-color-adjust-none"
            style={{ width: Math.max(1, (count / most) * width * 0.4) }}
          />
          <span className="min-w-0 truncate text-muted" dir="auto">
            {name}
          </span>
        </span>
      ))}
    </span>
  )
}
