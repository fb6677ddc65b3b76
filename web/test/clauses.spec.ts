import { expect, test } from '@playwright/test'
import type { ColumnProfile } from '../src/api/client'
import { parseClauses, placeIn, printClauses } from '../src/features/data/clauses'
import { keepBar } from '../src/features/data/ColumnHead'

const profile = (name: string, kind: string, label = name, bars: ColumnProfile['bars'] = []) =>
  ({ name, kind, label, bars, missing: 0, distinct: 3, groups: true }) as ColumnProfile
const columns = [
  profile('honey_kg', 'number', 'Honey yield', [
    { from: 1, to: 2.5, count: 3 },
    { from: 2.5, to: 4, count: 1 },
  ]),
  profile('hive type', 'category', 'Hive type', [
    { name: 'long', count: 2 },
    { name: "keeper's own", count: 1 },
  ]),
  profile('fed', 'yes / no', 'Fed', [
    { name: 'no', count: 1 },
    { name: 'yes', count: 2 },
  ]),
  profile('day', 'date', 'Day', [{ from: 0, to: 86400, count: 2 }]),
]
test('a bar of a picture becomes the clause that keeps its rows', () => {
  expect(columns.map((c) => keepBar(c, c.bars!.length - 1))).toEqual([
    'keep honey_kg between 2.5 and 4',
    "keep \"hive type\" = 'keeper''s own'",
    'keep fed',
    "keep day between '1970-01-01' and '1970-01-02'",
  ])
  expect(keepBar(columns[2], 0)).toBe('keep not fed')
})

test('typed and listed clauses are the same', () => {
  const typed = 'keep a > 1\noff sort by b\n'
  expect(printClauses(parseClauses(`\n ${typed}\n`))).toBe(typed)
})

test('a mistake is found where its clause is typed', () => {
  const typed = '\n  off keep "𝕏𝕏" > kg\nsort by b'
  const { from, to, line } = placeIn(typed, 0, 5, 9)
  expect([typed.slice(from, to), line]).toEqual(['"𝕏𝕏"', 2])
  expect(placeIn(typed, 1, 8, 9)).toEqual({ from: typed.length - 1, to: typed.length, line: 3 })
})
