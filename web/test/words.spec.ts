import { expect, test } from '@playwright/test'
import type { ColumnProfile } from '../src/api/client'
import { columnDetail } from '../src/sentence/detail'
import { andAlso, columnText, conditionOf, valueText } from '../src/sentence/quoting'
import { inForm } from '../src/scale/said'

test('names and values are quoted as the server reads them', () => {
  for (const [name, want] of [
    ['kg', 'kg'],
    ['bee space', '"bee space"'],
    ['O"Neil', '"O""Neil"'],
    ['2029', '"2029"'],
    ['größe', 'größe'],
    ['蜂蜜', '蜂蜜'],
    ['', '""'],
    ['a-b', '"a-b"'],
  ])
    expect(columnText(name)).toBe(want)
  for (const [value, want] of [
    ['Tarn', "'Tarn'"],
    ["O'Neil's", "'O''Neil''s'"],
    ['', "''"],
    ['<b>', "'<b>'"],
  ])
    expect(valueText(value)).toBe(want)
})

test('a condition takes groups as their column holds them, beside one that stands', () => {
  expect(conditionOf('district', ['Tarn'])).toBe("district = 'Tarn'")
  expect(conditionOf('district', ['Tarn', "O'Neil"])).toBe("district in ('Tarn', 'O''Neil')")
  expect(conditionOf('season', ['2029', '2030'], 'number')).toBe('season in (2029, 2030)')
  expect(conditionOf('fed', ['yes'], 'yes / no')).toBe('fed')
  expect(conditionOf('was fed', ['no'], 'yes / no')).toBe('not "was fed"')
  expect(andAlso('kg > 3 or kg < 1', conditionOf('district', ['Tarn']))).toBe("(kg > 3 or kg < 1) and district = 'Tarn'")
})

test('what is told of a column is what tells it from others', () => {
  const column = (more: Partial<ColumnProfile>) => columnDetail({ name: 'c', kind: 'number', distinct: 5, ...more } as ColumnProfile)
  expect(column({ unit: 'kg', low: '1', high: '9' })).toBe('kg')
  expect(column({ low: '1', high: '9' })).toBe('1 to 9')
  expect(column({})).toBe('')
  expect(column({ kind: 'date', low: '2029-01-01', high: '2029-02-01' })).toBe('2029-01-01 to 2029-02-01')
  expect(column({ kind: 'text' })).toBe('5 different')
  expect(column({ kind: 'yes / no' })).toBe('yes / no')
  expect(column({ kind: 'category' })).toBe('5 groups')
})

test('a form writes what the server writes', () => {
  for (const [form, v, plain, want] of [
    ['', 1234.5, '1,234.5', '1,234.5'],
    ['plain', 2029, '2,029', '2029'],
    ['percent', 0.285, '0.285', '28.5 %'],
    ['currency £', -3, '−3', '−£3'],
    ['currency CHF', 3, '3', 'CHF3'],
    ['decimals 3', 0.2, '0.2', '0.200'],
    ['120k', 120000, '120,000', '120k'],
    ['120k', 1.2e9, '1,200,000,000', '1.2bn'],
    ['120k', 12, '12', '12'],
    ['nonsense', 12, '12', '12'],
  ] as const)
    expect(inForm(form, v, plain)).toBe(want)
})
