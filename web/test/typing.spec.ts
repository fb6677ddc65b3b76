import { expect, test } from '@playwright/test'
import type { ColumnProfile } from '../src/api/client'
import { completeChart } from '../src/sentence/completion'

const columns = [
  { name: 'honey_kg', label: 'Honey yield', kind: 'number', unit: 'kg' },
  { name: 'forage ha', label: 'Forage area', kind: 'number' },
  { name: 'district', label: 'District', kind: 'category' },
] as ColumnProfile[]
const names = (text: string) => completeChart(text, columns).suggestions.map((s) => s.name)
const put = (text: string) => {
  const { from, suggestions } = completeChart(text, columns)
  return text.slice(0, from) + suggestions[0].text
}

test('the typed sentence of a chart is completed by clauses, columns and ways of fitting', () => {
  expect(names('plot a against b\nlo')).toEqual(['log x', 'log y'])
  expect(names('plot ')).toEqual(['honey_kg', 'forage ha', 'district'])
  expect(names('plot honey_kg ag')).toEqual(['against'])
  expect(names('plot honey_kg against yi')).toEqual(['honey_kg']) // by what people call it
  expect(names('colour by d')).toEqual(['district'])
  expect(names('fit r')).toEqual(['robust line'])
  expect(names('fit line with')).toEqual(['with band 95%', 'with prediction band 95%'])
  expect(names('fit line for each di')).toEqual(['district'])
  expect(names("title 'plot ")).toEqual([]) // a text is nobody's clause
  expect(names('opacity 0.')).toEqual([])
})

test('a proposal takes the place of the word that is typed', () => {
  expect(put('plot honey_kg against fo')).toBe('plot honey_kg against "forage ha"')
  expect(put('plot "fo')).toBe('plot "forage ha"')
  expect(put('plot honey_kg against district\nco')).toBe('plot honey_kg against district\ncolour by ')
})
