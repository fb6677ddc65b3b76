import { api, type PageDrawing, type ShownChart } from '../../api/client'
import type { Shown } from '../../figure/figure'
import { LiveChart, type LinkedBy } from '../chart/LiveChart'

/** Of which page charts share their axes, and which charts these are; page 0: each has its own. */
export interface SharedAxes {
  page: number
  charts: string
}

/** A chart in a page. */
export function PageChart({
  shown,
  axes,
  ...how
}: {
  shown: ShownChart
  axes: SharedAxes
  height: number
  lit: Shown | null
  linked: LinkedBy
  onDrawn: (drawing: PageDrawing | null) => void
}) {
  const { id, step = 0 } = shown
  const ask = {
    name: `${id} ${step} ${axes.page} ${axes.charts}`,
    followed: step === 0,
    draw: (size: { width: number; height: number }, signal: AbortSignal) => api.stepFigure(id, step, { ...size, page: axes.page }, signal),
  }
  return <LiveChart ask={ask} {...how} />
}
