import { expect, test } from '@playwright/test'
import type { Figure, Selection } from '../src/figure/figure'
import type { ChartView } from '../src/interact/chartview'
import { Linked } from '../src/interact/linked'

/** A chart that only remembers what it was told. */
function chart(names?: number[], groups = ['Tarn', 'Brindle']) {
  const told = {
    beside: undefined as number | null | undefined,
    alone: undefined as Selection | null | undefined,
    lit: undefined as { rows?: number[] | null } | null | undefined,
  }
  const view = {
    beside: (row: number | null) => void (told.beside = row),
    light: (speaks: { rows?: number[] | null } | null) => void (told.lit = speaks),
    isolate: (selection: Selection | null) => void (told.alone = selection),
  } as unknown as ChartView
  const figure = { keys: [{ column: 'district', entries: groups.map((name) => ({ name })) }] } as unknown as Figure
  return { told, view, as: { chart: view, figure: () => figure, names: names && Uint32Array.from(names) } }
}

test('a row is ringed in all charts by the name that it has in all, and nowhere else', () => {
  const linked = new Linked()
  const [a, b, c] = [chart(), chart([4, 2, 0]), chart([1, 3])]
  const leave = [a, b, c].map((one) => linked.add(one.as))
  linked.row(a.view, 2)
  expect([a.told.beside, b.told.beside, c.told.beside]).toEqual([undefined, 1, null])
  linked.row(b.view, 0)
  expect([a.told.beside, c.told.beside]).toEqual([4, null])
  linked.row(b.view, null)
  expect([a.told.beside, c.told.beside]).toEqual([null, null])
  leave[2]()
  c.told.beside = undefined
  linked.row(a.view, 3)
  expect(c.told.beside).toBeUndefined()
})

test('rows that are chosen in one chart are lit in all that have them', () => {
  const linked = new Linked()
  const [a, b, c] = [chart(), chart([4, 2, 0]), chart([1, 3])]
  for (const one of [a, b, c]) linked.add(one.as)
  linked.chosen(b.view, [1, 2])
  expect([a.told.lit, b.told.lit, c.told.lit]).toEqual([{ rows: [2, 0] }, { rows: [1, 2] }, null])
  linked.chosen(a.view, [])
  expect([a.told.lit, b.told.lit]).toEqual([null, null])
})

test('groups that are alone in one chart are alone in all that have them, by name', () => {
  const linked = new Linked()
  const [a, b, c] = [chart(), chart(undefined, ['Brindle', 'Tarn']), chart(undefined, ['Low Fen'])]
  for (const one of [a, b, c]) linked.add(one.as)
  linked.alone(a.view, { key: 1, entries: [0] })
  expect(b.told.alone).toEqual({ key: 1, entries: [1] })
  expect(c.told.alone).toBeNull()
  linked.alone(a.view, null)
  expect(b.told.alone).toBeNull()
})
