/** A look at columns of numbers two at a time, as the server tells it beside its picture. */
import type { Document, Schemas } from './types'
import type { Figure } from '../figure/figure'

export interface PairColumn {
  column: string
  name: string
  log?: boolean
  /** Of numbers: the least and the largest of the rows that are drawn, in their units. */
  from?: number
  to?: number
}

export interface Pair {
  x: number
  y: number
  n: string
  r: number
  within: number
  /** Correlations as they are written; empty where there is none. */
  overall: string
  inside: string
  turns: boolean
  /** What the correlation is: of numbers, of a number by groups, of groups by groups. */
  measure: 'r' | 'η' | 'V'
  words: string
  chart: Document
}

export interface PairsFound {
  /** Rows that the picture draws as dots. */
  dots: number
  columns: PairColumn[]
  candidates: PairColumn[]
  by: string
  by_name?: string
  groups: PairColumn[]
  pairs: Pair[]
  ranked: number[]
  rows: number
  total: number
  most: number
  /** The share of a square that stays free about its dots. */
  margin: number
}

export type PairsWanted = Schemas['PairsWanted']

export interface PairsPicture {
  figure: Figure
  pairs: PairsFound
}
