import { expect, test } from '@playwright/test'
import type { ColumnProfile, Language } from '../src/api/client'
import { parseClauses, printClauses, spoken } from '../src/features/data/clauses'
import { complete } from '../src/features/data/completion'
import { keepBar } from '../src/features/data/ColumnHead'

const profile = (name: string, kind: string, label = name, bars: ColumnProfile['bars'] = []) => ({ name, kind, label, bars, missing: 0, distinct: 3, groups: true }) as ColumnProfile
const columns = [
  profile('honey_kg', 'number', 'Honey yield', [{ from: 1, to: 2.5, count: 3 }, { from: 2.5, to: 4, count: 1 }]),
  profile('hive type', 'category', 'Hive type', [{ name: 'long', count: 2 }, { name: "keeper's own", count: 1 }]),
  profile('fed', 'yes / no', 'Fed', [{ name: 'no', count: 1 }, { name: 'yes', count: 2 }]),
  profile('day', 'date', 'Day', [{ from: 0, to: 86400, count: 2 }]),
]
const language: Language = {
  functions: [{ name: 'ln', help: 'natural logarithm', example: 'ln(mites + 1)' }, { name: 'least', help: 'the smallest', example: 'least(a, b)' }],
  clauses: [{ name: 'keep', example: 'keep a > 1' }, { name: 'keep top', example: 'keep top 12 item by count()' }, { name: 'work out', example: 'work out x = 1' }],
}
const names = (text: string) => complete(text, { columns, datasets: ['Hive seasons', 'Prices 2031'], language }).suggestions.map((s) => s.name)

test('what could be typed next follows from what stands there', () => {
  expect(names('ke')).toEqual(['keep', 'keep top'])
  expect(names('off wo')).toEqual(['work out'])
  expect(names('keep h')).toEqual(['honey_kg', 'hive type'])
  expect(names('keep yield')).toEqual(['honey_kg']) // by what people call it
  expect(names('work out x = l')).toEqual(['ln()', 'least()'])
  expect(names('leave out missing y')).toEqual(['honey_kg']) // no functions where there is no expression
  expect(names('work out ')).toEqual([]) // a new name
  expect(names('make 3 rows')).toEqual([])
  expect(names('join pr')).toEqual(['prices_2031'])
  expect(names('add rows of hive_seasons, ')).toEqual(['hive_seasons', 'prices_2031'])
  expect(names('join prices_2031 by f')).toEqual(['fed'])
  expect(names("keep \"hive type\" = '")).toEqual(['long', "keeper's own"])
  expect(names("keep fed and \"hive type\" in ('long', 'k")).toEqual(["keeper's own"])
  expect(names('sort by honey_kg')).toEqual(['honey_kg'])
  expect(names('sort by honey_kg ')).toHaveLength(4)
})

test('a suggestion takes the place of the word that is typed', () => {
  const put = (text: string, i = 0) => {
    const { from, suggestions } = complete(text, { columns, datasets: ['Hive seasons', 'Prices 2031'], language })
    return text.slice(0, from) + suggestions[i].text
  }
  expect(put('a\nkeep hon')).toBe('a\nkeep honey_kg')
  expect(put('keep "hive t')).toBe('keep "hive type"')
  expect(put('keep hive')).toBe('keep "hive type"')
  expect(put("keep \"hive type\" = 'ke")).toBe("keep \"hive type\" = 'keeper''s own'")
  expect(put('work out x = l')).toBe('work out x = ln(')
  expect(put('join h')).toBe('join hive_seasons by ')
})

test('clauses are spoken with the words of people', () => {
  const say = (name: string) => ({ honey_kg: 'honey yield', 'hive type': 'hive type' })[name] ?? name
  const words = (text: string) => spoken(text, say).map((p) => (p.tone === 'plain' ? p.text : `[${p.text}]`)).join('')
  expect(words('leave out missing honey_kg, fed')).toBe('Leave out rows missing [honey yield, fed]')
  expect(words('leave out missing')).toBe('Leave out rows missing [any value]')
  expect(words('keep frames >= 6')).toBe('Keep rows where [frames ≥ 6]')
  expect(words('work out income = honey_kg * price')).toBe('Work out [income] = [honey_kg * price]')
  expect(words('read fed as yes/no')).toBe('Read [fed] as [yes / no]')
  expect(words('keep top 3 "hive type" by count(), rest as \'Other\'')).toBe('Keep the top 3 of [hive type] by [count()], the rest as Other')
  expect(words('join apiaries by honey_kg keeping matched rows')).toBe('Join [apiaries] by [honey yield], matched rows only')
  expect(words('drop duplicates')).toBe('[Drop] [duplicates]'.replace('[Drop] ', 'Drop '))
  expect(words('make 3 rows')).toBe('Make [3 rows]')
  expect(words('kepe')).toBe('[Kepe]')
})

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
