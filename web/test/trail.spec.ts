import { expect, test } from '@playwright/test'
import type { Step } from '../src/api/client'
import { followers, shapeOf } from '../src/state/trail'

const step = (id: number, parent_id: number, more: Partial<Step> = {}): Step => ({
  id,
  parent_id,
  words: `w${id}`,
  created_at: '',
  ...more,
})
const ids = (steps: Step[]) => steps.map((s) => s.id)
const shown = (shape: ReturnType<typeof shapeOf>) => shape.main.map((s) => ('step' in s ? s.step.id : `${s.folded.length} folded`))

test('the branch that one stands on is the main one, the others leave from their steps', () => {
  const steps = [step(1, 0), step(2, 1), step(3, 2), step(4, 2), step(5, 4), step(6, 3), step(7, 4)]
  const at3 = shapeOf(steps, 3)
  expect(shown(at3)).toEqual([1, 2, 3, 6])
  expect(at3.branches.map((b) => [b.from, ids(b.steps)])).toEqual([
    [2, [4, 7]],
    [4, [5]],
  ])
  expect(ids(at3.ends)).toEqual([6, 7, 5])
  expect(shown(shapeOf(steps, 5))).toEqual([1, 2, 4, 5])
  expect(shown(shapeOf(steps, 99))).toEqual([1, 2, 4, 7])
  expect(shapeOf([], 0)).toEqual({ main: [], branches: [], ends: [] })
})

test('long stretches are folded between pins, and opened by a press', () => {
  const steps = Array.from({ length: 100 }, (_, i) => step(i + 1, i, i === 49 ? { pinned: true } : i === 59 ? { name: 'x' } : {}))
  expect(shown(shapeOf(steps, 100))).toEqual([1, '48 folded', 50, '9 folded', 60, '36 folded', 97, 98, 99, 100])
  expect(shown(shapeOf(steps, 50))).toEqual([1, '45 folded', 47, 48, 49, 50, 51, 52, 53, '6 folded', 60, '38 folded', 99, 100])
  expect(shown(shapeOf(steps, 100, new Set([51]))).length).toBe(18)
  const many = Array.from({ length: 22_000 }, (_, i) => step(i + 1, i))
  expect(shown(shapeOf(many, 22_000))).toEqual([1, '21995 folded', 21997, 21998, 21999, 22000])
})

test('what follows a step is all that hangs on it', () => {
  const steps = [step(1, 0), step(2, 1), step(3, 2), step(4, 1), step(5, 3)]
  expect([...followers(steps, 2)]).toEqual([2, 3, 5])
})
