import { expect, test } from '@playwright/test'
import type { AxisScale, Figure, Layer } from '../src/figure/figure'
import { pieces } from '../src/features/notes/NoteText'
import { astray, onWhat } from '../src/features/notes/onWhat'
import { numbered } from '../src/features/notes/useNotes'
import { isSentence } from '../src/features/again/pasted'
import { anchorsOf, badgesOf, freeCorner, groupOf, spotAt, type Standing } from '../src/interact/noted'
import { frameOf, WHOLE, type View } from '../src/painter/geometry'

const SIZE = { width: 800, height: 600 }

/** A figure of a logarithmic x and of groups along y, with a dot for each of some rows. */
function standing(view: View = WHOLE): Standing {
  const x = { channel: 'x', column: 'land', kind: 'log', from: 1, to: 1000, ticks: [] } as unknown as AxisScale
  const y = {
    channel: 'y',
    column: 'place',
    kind: 'groups',
    from: -0.5,
    to: 2.5,
    levels: ['Tarn', 'שדה', '一'],
    ticks: [],
  } as unknown as AxisScale
  const dots = {
    panel: 0,
    mark: 'dots',
    primitive: 'points',
    rows: true,
    count: 4,
    x: Float32Array.from([0.1, 0.2, 0.5, 0.9]),
    y: Float32Array.from([0.1, 0.2, 0.5, 0.9]),
    row: Uint32Array.from([7, 2, 40, 3]),
    colour: Uint8Array.from([0, 0, 1, 0]),
    keys: { colour: 1 },
    style: { fixed_radius: 4 },
  } as unknown as Layer
  const figure = {
    ...SIZE,
    panels: [{ box: { left: 60, top: 10, width: 700, height: 500 }, x: 0, y: 1, titles: null }],
    scales: [x, y],
    layers: [dots],
    keys: [{ entries: [{ name: 'long' }, { name: 'skep' }] }],
    texts: [],
    card: { columns: [] },
  } as unknown as Figure
  return { figure, frames: [frameOf(figure, 0, SIZE.width, SIZE.height, view)], size: SIZE, hit: null, selection: null }
}

test('a place that is noted on is found again where it was, along logarithms and groups, and goes with what is seen', () => {
  const whole = standing()
  const zoomed = standing({ u0: 0.25, u1: 0.75, v0: 0, v1: 1 })
  for (let i = 0; i < 200; i++) {
    const x = 60 + 700 * ((i * 0.37) % 1)
    const y = 10 + 500 * ((i * 0.73) % 1)
    const spot = spotAt(whole, 5, x, y)!
    const [anchor] = anchorsOf(whole, spot, [])
    expect(Math.abs(anchor.x - x)).toBeLessThan(0.5)
    expect(spot.y!.group).toBe(['一', 'שדה', 'Tarn'][Math.min(2, Math.floor(((y - 10) / 500) * 3))]) // the group there, at its middle
    const [near] = anchorsOf(zoomed, spot, [])
    const share = (x - 60) / 700
    if (share > 0.26 && share < 0.74) expect(Math.abs(near.x - (60 + (share - 0.25) * 2 * 700))).toBeLessThan(1.5)
    else if (share < 0.24 || share > 0.76) expect(near).toBeUndefined()
  }
  expect(spotAt(whole, 5, 20, 20)).toBeNull() // beside the panel
  expect(anchorsOf(whole, { kind: 'place', x: { column: 'other', number: 3 }, y: { column: 'place', group: 'Tarn' } }, [])).toEqual([])
  expect(anchorsOf(whole, { kind: 'place', x: { column: 'land', number: -1 }, y: { column: 'place', group: 'Tarn' } }, [])).toEqual([])
})

test('a note on rows stands at their dots, as they are numbered now, and names the group that they are of', () => {
  const s = standing()
  const at = anchorsOf(s, { kind: 'rows' }, [8, 41, 99]) // from 1 on
  expect(at.map((a) => Math.round(a.x))).toEqual([130, 410])
  expect(groupOf(s.figure, [8, 3])).toBe('long')
  expect(groupOf(s.figure, [8, 41])).toBe('')
  const hit = { layer: 0, i: 2, x: 410, y: 260, radius: 4 }
  expect(spotAt({ ...s, hit }, 5, 410, 260)).toEqual({ kind: 'rows', version_id: 5, rows: [41] })
})

test('badges stand inside the paper and apart from each other, and a card hides nothing that it is about', () => {
  const s = standing()
  const notes = Array.from({ length: 12 }, (_, i) => [{ x: 130 + 4 * i, y: 460, radius: 4 }])
  const badges = badgesOf(s, notes)
  badges.forEach((a, i) => {
    expect(a.x).toBeGreaterThanOrEqual(14)
    expect(a.y).toBeLessThanOrEqual(SIZE.height - 14)
    for (const b of badges.slice(0, i)) expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThan(12)
  })
  for (const [x, y] of [
    [700, 60],
    [60, 60],
    [700, 560],
  ]) {
    const { left, top } = freeCorner(s, 361, 200, [{ x, y, radius: 4 }])
    expect(x > left && x < left + 361 && y > top && y < top + 200).toBe(false)
  }
})

test('names behind an @ are marked, of names that begin alike the longest', () => {
  const names = ['Ines', 'Ines Corrie', 'Bram Fell', '']
  const said = (text: string) => pieces(text, names).map((p) => (p.named ? `[${p.said}]` : p.said))
  expect(said('look @ines corrie, and @Ines: @nobody @')).toEqual(['look ', '[@ines corrie]', ', and ', '[@Ines]', ': @nobody @'])
  expect(said('')).toEqual([])
  expect(said('a@Bram Fell')).toEqual(['a', '[@Bram Fell]'])
})

test('what a note is on is said in words, and what became of its rows', () => {
  const axis = (column: string) => (column === 'land' ? { name: 'Land', unit: 'ha', date: false } : { name: 'Place', date: false })
  const place = { kind: 'place' as const, x: { column: 'land', number: 1234.567 }, y: { column: 'place', group: 'Tarn' } }
  expect(onWhat({ spot: place }, { axis })).toBe('near Land 1,235 ha, Place Tarn')
  expect(onWhat({ spot: place })).toBe('a place on the chart')
  expect(onWhat({ spot: { kind: 'rows', rows: [3], keys: [['TA-312', '2029']] } })).toBe('TA-312, 2029')
  expect(onWhat({ spot: { kind: 'rows', rows: [3, 4] } }, { group: () => 'Tarn' })).toBe('2 rows of Tarn')
  expect(onWhat({ spot: { kind: 'step', step: 4 } }, { step: () => undefined })).toBe('step “taken out”')
  const rows = { kind: 'rows' as const, rows: [1, 2] }
  expect(astray({ spot: rows, gone: ['A', 'B'] })).toBe('Its rows are not in this version: A; B.')
  expect(astray({ spot: rows, gone: ['B'] })).toBe('Not in this version any more: B.')
  expect(astray({ spot: rows })).toBe('')
  const note = (id: number, over: boolean) => ({ id, resolved_at: over ? '2031-05-04' : undefined }) as Parameters<typeof numbered>[0][0]
  expect([...numbered([note(5, false), note(6, true), note(9, false)])]).toEqual([
    [5, 1],
    [9, 2],
  ])
})

test('a pasted sentence is told from a pasted table', () => {
  for (const text of ['Plot honey yield against altitude.', ' plot a against b\nlog x', 'of rows where x > 1\nplot a against b'])
    expect(isSentence(text)).toBe(true)
  for (const text of ['plotter\tkg\nA\t1', 'honey,plot\n1,2', '', 'Over all hives, plot']) expect(isSentence(text)).toBe(false)
})
