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

  /** What a row of a chart is called in all. */
  private nameOf(from: ChartView, row: number): number {
    const source = [...this.charts].find((c) => c.chart === from)
    return source?.names?.[row] ?? row
  }

  /** Where a chart has the row of a name; null: nowhere. */
  private placeOf(to: LinkedChart & { places?: Map<number, number> }, name: number): number | null {
    if (!to.names) return name
    to.places ??= new Map(Array.from(to.names, (n, i) => [n, i]))
    return to.places.get(name) ?? null
  }

  /** A row is pointed at in one of them; null: none. */
  row(from: ChartView, row: number | null): void {
    const name = row === null ? null : this.nameOf(from, row)
    for (const to of this.charts) if (to.chart !== from) to.chart.beside(name === null ? null : this.placeOf(to, name))
  }

  /** Rows are chosen in one of them: they are lit in all; none: nothing is. */
  chosen(from: ChartView, rows: number[]): void {
    const names = rows.map((row) => this.nameOf(from, row))
    for (const to of this.charts) {
      const places = names.map((name) => this.placeOf(to, name)).filter((place) => place !== null)
      to.chart.light(places.length ? { rows: places } : null)
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
