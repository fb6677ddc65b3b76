/** What whoever shows a chart is told, and is asked. */
import type { Selection } from '../figure/figure'
import type { Limits } from './axes'

export interface ChartOptions {
  /** Gives the text values of a table row, for figures that do not carry them. */
  rowValues?: (row: number) => Promise<Record<string, string>>
  /** Told when entries of a key are looked at alone, or all again. */
  onIsolate?: (selection: Selection | null) => void
  /** Told when something is pressed that a word of the sentence governs: which one. */
  onPressWord?: (slot: string) => void
  /** Told when a mark that stands for a group along an axis is pressed. */
  onPressGroup?: (axis: 'x' | 'y', group: string) => void
  /** Told when the mark of a row is pressed: where it stands in the table. */
  onPressRow?: (row: number) => void
  /** Whether what hovering shows stands as a sheet below the page: on phones. */
  sheet?: boolean
  /** Told which row is pointed at; null: none. */
  onRow?: (row: number | null) => void
  /** Told which rows an outline was drawn around. */
  onChoose?: (rows: number[]) => void
  /** Told when the part that is looked at is to be the chart's own: the values at the ends of each axis of numbers or dates. */
  onKeepView?: (limits: { x?: Limits; y?: Limits }) => void
  /** Told when the rows of the part that is looked at are asked for, where the chart has not all of them. */
  onRowsHere?: (limits: { x?: Limits; y?: Limits }) => void
  /** Told, once for a figure, when it is looked at more closely than the places of its dots are exact. */
  onDeep?: () => void
  /** Whether letters and signs do something on the chart; none: they do. */
  singleKeys?: () => boolean
  /** Told when the end of an axis was dragged: the values at its ends now. */
  onDragAxis?: (axis: 'x' | 'y', from: number, to: number) => void
  /** Told whenever the chart was painted: what stands over it is to be placed anew. */
  onPainted?: () => void
}
