/**
 * Charts of one table under one hand: the row that is pointed at in one is ringed in all, and a group that is alone in one is
 * alone in all that have its key.
 */
import { carriedTo, type Figure, type Selection } from '../figure/figure'
import type { ChartView } from './chartview'

export interface LinkedChart {
  chart: ChartView
  figure: () => Figure | null
  /** What rows of this chart are called in all; none: as they are numbered in its figure. */
  names?: Uint32Array
}

export class Linked {
  private readonly charts = new Set<LinkedChart & { places?: Map<number, number> }>()
  private telling = false

  add(chart: LinkedChart): () => void {
    this.charts.add(chart)
    return () => void this.charts.delete(chart)
  }

  /** A row is pointed at in one of them; null: none. */
  row(from: ChartView, row: number | null): void {
    const source = [...this.charts].find((c) => c.chart === from)
    const name = row === null ? null : (source?.names?.[row] ?? row)
    for (const to of this.charts) {
      if (to.chart === from) continue
      if (name !== null && to.names) to.places ??= new Map(Array.from(to.names, (n, i) => [n, i]))
      to.chart.beside(name === null ? null : to.places ? (to.places.get(name) ?? null) : name)
    }
  }

  /** Groups are alone in one of them; null: all are seen. */
  alone(from: ChartView, selection: Selection | null): void {
    if (this.telling) return // what follows from the first one is no wish of its own
    const figure = [...this.charts].find((c) => c.chart === from)?.figure()
    if (!figure) return
    this.telling = true
    for (const { chart, figure: of } of this.charts) {
      const other = of()
      if (chart !== from && other) chart.isolate(carriedTo(selection, figure, other))
    }
    this.telling = false
  }
}
