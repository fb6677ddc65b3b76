import { expect, test } from '@playwright/test'
import { distance, look, nearest } from '../src/sentence/find'

const list = [
  { name: 'interval', help: 'how sure each mean is', example: 'interval 95%', also: 'error bars whiskers' },
  { name: 'panels', help: 'a picture for each group', example: 'panels by season', also: 'facets small multiples' },
  { name: 'as bars', help: 'a length from zero', example: 'as bars', also: 'columns' },
]

test('letters that differ are counted, swapped neighbours as one', () => {
  for (const [a, b, want] of [
    ['', 'ab', 2],
    ['panels', 'panels', 0],
    ['panles', 'panels', 1],
    ['facet', 'facets', 1],
    ['bar', 'bra', 1],
    ['kitten', 'sitting', 3],
  ] as const)
    expect(distance(a, b), `${a} ${b}`).toBe(want)
})

test('things are found by name, by what they do and by words of the trade, and misspelt words lead to known ones', () => {
  const names = (search: string) => look(list, search).map((of) => of.name)
  expect(names('bars')).toEqual(['as bars', 'interval']) // what is called so first
  expect(names('small multiples')).toEqual(['panels'])
  expect(names('group picture')).toEqual(['panels'])
  expect(names(' ')).toEqual([])
  expect(names('pie')).toEqual([])
  expect(nearest(list, 'wiskers')).toBe('whiskers')
  expect(nearest(list, 'facest')).toBe('facets')
  expect(nearest(list, 'xyzxyz')).toBeNull()
})
