import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useSyncExternalStore } from 'react'
import { api, type Document, type Drawing } from '../../api/client'
import { paintFigure } from '../../painter/painter'
import { DARK, LIGHT } from '../../painter/theme'
import { WHOLE } from '../../painter/geometry'

const darkQuery = matchMedia('(prefers-color-scheme: dark)')
const useDark = () =>
  useSyncExternalStore(
    (listener) => {
      darkQuery.addEventListener('change', listener)
      return () => darkQuery.removeEventListener('change', listener)
    },
    () => darkQuery.matches,
  )

/** A small picture of a chart: its marks and lines, without axes and words. */
export function ChartPicture({ version, document, width, height }: { version: number; document: Document; width: number; height: number }) {
  const drawing = useQuery({
    queryKey: ['picture', version, document],
    queryFn: () => api.draw(version, { document, width: 320, height: 200 }),
    staleTime: Infinity,
    enabled: Boolean(document.x && document.y),
  })
  return <SmallFigure drawing={drawing.data} width={width} height={height} />
}

export function SmallFigure({ drawing, width, height }: { drawing: Drawing | undefined; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const dark = useDark()
  useEffect(() => {
    const c = canvas.current?.getContext('2d')
    if (!c || !drawing) return
    const ratio = Math.max(devicePixelRatio || 1, 1)
    canvas.current!.width = width * ratio
    canvas.current!.height = height * ratio
    const figure = smaller(drawing.figure)
    paintFigure(c, figure, { left: 4, top: 4, width: width - 8, height: height - 8, view: WHOLE }, width, height, { theme: dark ? DARK : LIGHT, isolated: null, pixelRatio: ratio, bare: true })
  }, [drawing, width, height, dark])
  return <canvas ref={canvas} aria-hidden className="block w-full bg-paper" style={{ aspectRatio: `${width} / ${height}` }} />
}

/** Marks of a small picture are small, and few enough to be quick. */
function smaller(figure: Drawing['figure']): Drawing['figure'] {
  const { dots } = figure
  return { ...figure, dots: { ...dots, fixed_radius: dots.fixed_radius * 0.38, largest_radius: dots.largest_radius * 0.38 } }
}
