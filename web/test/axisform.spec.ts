import { expect, test } from '@playwright/test'
import { axisSaid } from '../src/sentence/AxisForm'
import { chosenLine, columnSaid, limitsSaid, textLine, whereLine } from '../src/sentence/lines'

const nothing = {
  from: '',
  to: '',
  scale: '' as const,
  base: '',
  reversed: false,
  ticks: '',
  form: '' as const,
  symbol: '',
  digits: '',
  title: '',
  untitled: false,
  unit: '',
}

test('an axis is said as it was filled in, and what is wrong is told', () => {
  const said = (draft: object, dates = false) => {
    const { wrong, amendment } = axisSaid('x', { ...nothing, ...draft }, dates)
    return wrong || amendment.say!.join(' | ')
  }
  expect(said({})).toBe('')
  expect(said({ from: '1,000', to: '−2', title: " it's ", unit: 'ha', form: '120k' })).toBe(
    "x from 1000 to -2 titled 'it''s' in 'ha' as 120k",
  )
  expect(said({ scale: 'log', base: '2', reversed: true, ticks: 'every 5' })).toBe('log x base 2 | x reversed | ticks x every 5')
  expect(said({ ticks: '0; 1,500; 3e4', untitled: true, title: 'not said' })).toBe('ticks x at 0, 1500, 30000 | x untitled')
  expect(said({ form: 'currency', symbol: '€' })).toBe("x as currency '€'")
  expect(said({ form: 'decimals' })).toBe('x as 2 decimals')
  expect(said({ from: '2030-01-01', to: '2031-06-30' }, true)).toBe("x from '2030-01-01' to '2031-06-30'")
  expect(said({ from: '2' })).toBe('say both ends, or neither')
  expect(said({ from: 'two', to: '3' })).toBe('a limit is a number such as 2,500')
  for (const ticks of ['every', 'every 0', 'every -1', '1; two']) expect(said({ ticks })).toMatch(/^say every 500/)
})

test('names and texts of any kind are said so that nothing else is meant', () => {
  expect(columnSaid('fit "line"')).toBe('"fit ""line"""')
  expect(textLine('note', ' two\nlines, it’s ')).toEqual(["note 'two\nlines, it’s'"])
  expect(textLine('note', '  ')).toEqual([])
  expect(whereLine("a > 1\n  and b = 'x'")).toEqual(["of rows where a > 1 and b = 'x'"])
  expect(limitsSaid(0, 86461, true)).toBe("from '1970-01-01' to '1970-01-02 00:01:01'")
  expect(chosenLine({ rows: [3, 4], without: true })).toEqual(['without rows 3, 4'])
  expect(chosenLine({ rows: [] })).toEqual([])
})
