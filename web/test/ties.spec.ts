import { expect, test } from '@playwright/test'
import type { Reading } from '../src/figure/figure'
import { noteOf, retied } from '../src/sentence/ties'

const reading = (...said: [key: string, text: string, kind?: 'plain' | 'caution'][]): Reading => ({
  paragraphs: said.map(([key, text, kind = 'plain']) => ({ key, kind, spans: [{ text }] })),
  fits: [],
})

test('what a note takes from the reading is tied to it, but for cautions', () => {
  const of = reading(['k1', 'Yield [kg] falls by 7.'], ['k2', 'Mind this.', 'caution'], ['k3', 'It holds.'])
  expect(noteOf(of)).toBe('[Yield \\[kg\\] falls by 7.](reading:k1) [It holds.](reading:k3)')
})

test('words of a note that still stand stay tied, and others become one’s own', () => {
  const before = 'So: [Yield fell by 6.](reading:k1) [It holds.](reading:k3) [Gone.](reading:k9)'
  const now = reading(['k1', 'Yield falls by 7.'], ['k3', 'It holds.'])
  expect(retied('So: Yield falls by 7. It held. Gone.', before, now)).toBe('So: [Yield falls by 7.](reading:k1) It held. Gone.')
  expect(retied('It holds.', before, undefined)).toBe('It holds.')
})
