import { expect, test } from '@playwright/test'
import { forReaders } from '../src/state/forReaders'
import { initials, personColour } from '../src/ui/initials'
import { may } from '../src/ui/may'
import { moment } from '../src/ui/moment'

test('a moment is told in words as short as they can be, by the day that it is', () => {
  const now = new Date(2031, 2, 26, 0, 30)
  const at = (...parts: [number, number, number, number?, number?]) => moment(new Date(...parts).toISOString(), now)
  expect(at(2031, 2, 26, 0, 5)).toBe('today, 0:05')
  expect(at(2031, 2, 25, 23, 59)).toBe('yesterday')
  expect(at(2031, 2, 27, 12)).toBe('tomorrow')
  expect(at(2031, 2, 8)).toBe('8 March')
  expect(at(2030, 11, 31)).toBe('31 December 2030')
})

test('names of one word, of none and of letters beyond the first plane have initials', () => {
  expect(initials('Ada Thorne')).toBe('AT')
  expect(initials('mab')).toBe('M')
  expect(initials('Ada van der Thorne')).toBe('AV')
  expect(initials('𝒜da 蜂')).toBe('𝒜蜂')
  expect(personColour(3)).toBe(personColour(3))
})

test('each role may what the ones before it may, and nobody without one may anything', () => {
  expect(['reader', 'maker', 'owner'].map((role) => may({ role }, 'maker'))).toEqual([false, true, true])
  expect(may({ role: '' }, 'reader')).toBe(false)
})

test('what a reader tries is a trail of their own, and no step has the number of one that is kept', async () => {
  const bench = forReaders()
  const document = { version: 3, y: { column: 'a' }, x: { column: 'b' } }
  const chart = await bench.addChart(1, document)
  const step = await bench.addStep(chart.id, chart.head_step_id, document, 'log x')
  const next = await bench.addStep(chart.id, step.id, document, 'size: s')
  expect(step).toMatchObject({ parent_id: chart.head_step_id, words: 'log x' })
  expect(new Set([chart.head_step_id, step.id, next.id]).size).toBe(3)
  expect(Math.max(chart.head_step_id, step.id, next.id)).toBeLessThan(0)
})
