import { useQuery } from '@tanstack/react-query'
import { useLayoutEffect, useRef } from 'react'
import type { Figure } from '../../figure/figure'
import type { Pair, PairsFound, PairsPicture } from '../../api/pairs'
import { paintFigure } from '../../painter/painter'
import { themeNow, whenThemeTurns } from '../../painter/theme'
import { WHOLE } from '../../painter/geometry'
import { api } from '../../api/client'
import { useChosenRows } from '../../state/chosen'
import { Bars } from './Bars'
import { placeIn } from './lit'

/** Squares narrower than this tell numbers alone, and smaller than that one number. */
const ROOMY = 84
const SMALL = 58

/** Every pair as two squares: dots below the diagonal, correlations above it; pressing one opens the chart. */
export function Matrix({
  picture: { figure, pairs: found },
  side,
  open,
  version,
}: {
  picture: PairsPicture
  side: number
  open: (pair: Pair) => void
  version: number
}) {
  const n = found.columns.length
  const at = new Map(found.pairs.map((pair) => [`${pair.y} ${pair.x}`, pair]))
  const cell = figure.panels[0].box.width
  const name = (i: number) => found.columns[i].name
  const said = (pair: Pair) =>
    `${name(pair.y)} and ${name(pair.x)}: ${pair.measure} ${pair.overall || 'not known'}${pair.measure !== 'r' ? '' : ' overall'}${found.by_name && pair.measure === 'r' ? `, ${pair.inside || 'not known'} inside groups of ${found.by_name}` : ''}${pair.turns ? ', turns round' : ''}`
  const places = Array.from({ length: n * n }, (_, i) => [Math.floor(i / n), i % n] as const)
  return (
    <div className="relative" style={{ width: side, height: side }}>
      <Painted figure={figure} side={side} />
      <Lit figure={figure} found={found} side={side} version={version} />
      <div
        role="group"
        aria-label="Pairs"
        className="absolute inset-0 grid"
        style={{
          gridTemplateColumns: `repeat(${n}, ${cell}px)`,
          gridTemplateRows: `repeat(${n}, ${cell}px)`,
          gap: (side - n * cell) / Math.max(n - 1, 1),
        }}
      >
        {places.map(([y, x]) => {
          if (x === y)
            return (
              <p
                key={`${y} ${x}`}
                title={name(x) + (found.columns[x].log ? ' (log scale)' : '')}
                className={`overflow-hidden px-1 pt-0.5 leading-[1.2] font-semibold wrap-anywhere ${cell < ROOMY ? 'text-[10px]' : 'text-xs'}`}
              >
                <span className="line-clamp-2">{name(x)}</span>
                {found.columns[x].log && cell >= ROOMY && <span className="block font-normal text-muted">log scale</span>}
              </p>
            )
          const pair = at.get(x < y ? `${y} ${x}` : `${x} ${y}`)!
          const border = pair.turns ? 'border-copper' : 'border-line'
          return (
            <button
              key={`${y} ${x}`}
              type="button"
              tabIndex={x < y ? -1 : 0}
              aria-hidden={x < y || undefined}
              aria-label={said(pair)}
              title={said(pair)}
              onClick={() => open(pair)}
              className={`overflow-hidden rounded-lg border text-left hover:border-copper ${border} ${x < y ? '' : pair.turns ? 'bg-copper-wash' : 'bg-strip'}`}
            >
              {x > y && <Numbers pair={pair} by={found.by_name} cell={cell} />}
            </button>
          )
        })}
      </div>
    </div>
  )
}

function Numbers({ pair, by, cell }: { pair: Pair; by?: string; cell: number }) {
  const line = (what: string, value: string) => (
    <span className="flex justify-between gap-1">
      <span className="text-muted">{what}</span>
      <span className="font-semibold tabular-nums">{value || '–'}</span>
    </span>
  )
  if (cell < ROOMY)
    return (
      <span
        className={`flex h-full flex-col items-center justify-center leading-[1.25] tabular-nums ${cell < SMALL ? 'text-[9.5px]' : 'text-[11px]'}`}
      >
        <span className="font-semibold">{pair.overall || '–'}</span>
        {by && pair.measure === 'r' && (
          <span className={pair.turns ? 'font-semibold text-copper' : 'text-muted'}>{pair.inside || '–'}</span>
        )}
      </span>
    )
  return (
    <span className="flex h-full flex-col justify-center gap-0.5 px-2.5 text-[11.5px] leading-[1.3]">
      {line(pair.measure === 'r' ? 'overall' : pair.measure, pair.overall)}
      {by && pair.measure === 'r' && line('within', pair.inside)}
      <Bars pair={pair} by={pair.measure === 'r' ? by : undefined} height={by && pair.measure === 'r' ? 17 : 9} />
      {pair.turns && <span className="font-semibold text-copper">turns round</span>}
    </span>
  )
}

function Painted({ figure, side }: { figure: Figure; side: number }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const paint = () => {
      const ratio = devicePixelRatio || 1
      canvas.current!.width = canvas.current!.height = Math.round(side * ratio)
      const c = canvas.current!.getContext('2d', { willReadFrequently: true })!
      paintFigure(c, figure, side, side, WHOLE, { theme: themeNow(), selection: null, pixelRatio: ratio })
      canvas.current!.dataset.painted = String(figure.layers.reduce((sum, l) => sum + l.count, 0))
    }
    paint()
    return whenThemeTurns(paint)
  }, [figure, side])
  return <canvas ref={canvas} aria-hidden style={{ width: side, height: side }} className="absolute inset-0 block rounded-lg" />
}

/** How many chosen rows are lit at most. */
const MOST_LIT = 1000

/** Rings about the rows that were chosen on a chart or under Data, in every square of two columns of numbers. */
function Lit({ figure, found, side, version }: { figure: Figure; found: PairsFound; side: number; version: number }) {
  const chosen = useChosenRows(version)
  const rows = chosen?.slice(0, MOST_LIT) ?? []
  const columns = found.columns.map((c) => c.column)
  const numbers = useQuery({
    queryKey: ['numbers', version, rows, columns],
    queryFn: () => api.numbers(version, rows, columns),
    enabled: rows.length > 0,
    staleTime: Infinity,
  })
  const canvas = useRef<HTMLCanvasElement>(null)
  const values = rows.length > 0 ? numbers.data : undefined
  useLayoutEffect(() => {
    const paint = () => {
      const ratio = devicePixelRatio || 1
      canvas.current!.width = canvas.current!.height = Math.round(side * ratio)
      const c = canvas.current!.getContext('2d')!
      c.scale(ratio, ratio)
      const theme = themeNow()
      let rings = 0
      for (const { box, x, y } of values ? figure.panels : []) {
        if (x === y) continue
        for (let i = 0; i < rows.length; i++) {
          const [u, v] = [placeIn(found.columns[x], values![x]![i], found.margin), placeIn(found.columns[y], values![y]![i], found.margin)]
          if (u === null || v === null) continue
          rings++
          c.beginPath()
          c.arc(box.left + u * box.width, box.top + (1 - v) * box.height, 3.5, 0, 2 * Math.PI)
          c.strokeStyle = theme.paper
          c.lineWidth = 3.5
          c.stroke()
          c.strokeStyle = theme.copper
          c.lineWidth = 1.75
          c.stroke()
        }
      }
      canvas.current!.dataset.lit = String(rings)
    }
    paint()
    return whenThemeTurns(paint)
  }, [figure, found, side, values, rows.length])
  return (
    <canvas
      ref={canvas}
      aria-hidden
      data-testid="lit"
      style={{ width: side, height: side }}
      className="pointer-events-none absolute inset-0 z-1 block"
    />
  )
}
