import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import type { Figure, Layer, Selection } from '../src/figure/figure'
import { Crowd } from '../src/painter/crowd'
import { paintFigure } from '../src/painter/painter'
import { SHEETS_ABOVE } from '../src/painter/primitives/points'
import { PAINT } from '../src/painter/primitives'
import { DARK, LIGHT } from '../src/painter/theme'
import { WHOLE, type View } from '../src/painter/geometry'
import { Recorder, withCanvases } from './recorder'

const shares = (...v: number[]) => Float32Array.from(v)
const entries = (...v: number[]) => Uint8Array.from(v)
const key = {
  channels: ['colour', 'shape'],
  column: 'district',
  name: 'District',
  entries: [
    { name: 'Tarn', light: '#111111', dark: '#eeeeee', shape: 'circle', count: 1 },
    { name: 'Brindle', light: '#222222', dark: '#dddddd', shape: 'square', count: 1 },
  ],
}
const scale = (channel: string) => ({
  channel,
  kind: 'linear',
  from: 0,
  to: 10,
  column: 'a',
  name: 'A',
  title: 'A',
  tick_count: 2,
  room: 100,
  ticks: [
    { value: 0, label: '0' },
    { value: 10, label: '10' },
  ],
})

const figureOf = (...layers: Layer[]): Figure =>
  ({
    version: 2,
    width: 120,
    height: 100,
    scales: [scale('x'), scale('y')],
    panels: [{ box: { left: 20, top: 10, width: 80, height: 70 }, x: 0, y: 1, labels: { x: true, y: true }, rows: 2 }],
    layers,
    keys: [key],
    texts: [{ role: 'title', panel: -1, x: 10, y: 8, anchor: 'start', size: 18, bold: true, serif: true, text: 'T' }],
    rows: { total: 2, drawn: 2, left_out: [], outside: 0 },
    card: { columns: [] },
  }) as unknown as Figure

const keyed = { panel: 0, mark: 'test', keys: { colour: 1 }, colour: entries(0, 1) }
const two = { ...keyed, count: 2 }
const curve = { x: shares(0, 0.5, 1, 0.2, 0.8), y: shares(0, 1, 0.5, 0.1, 0.9), start: Uint32Array.of(0, 3) }

/** One layer of each primitive, with everything that it can carry. */
const LAYERS: Record<string, Layer> = {
  points: {
    ...two,
    primitive: 'points',
    x: shares(0.25, 0.5),
    y: shares(0.5, 1),
    shape: entries(0, 1),
    radius: entries(255, 128),
    keys: { colour: 1, shape: 1 },
    style: { opacity: 0.5, largest_radius: 8, outline: true },
  },
  paths: { ...two, primitive: 'paths', ...curve, style: { width: 2, dash: [7, 5] } },
  areas: { ...two, primitive: 'areas', ...curve, y2: shares(0.2, 1.1, 0.7, 0.3, 1), style: { opacity: 0.2 } },
  rects: {
    ...two,
    primitive: 'rects',
    x: shares(0, 0.5),
    x2: shares(0.4, 0.9),
    y: shares(0, 0),
    y2: shares(0.5, -0.2),
    style: { fill: true, opacity: 0.7, width: 1.5 },
  },
  polygons: { ...two, primitive: 'polygons', ...curve, style: { fill: true, width: 1 } },
  segments: {
    ...two,
    primitive: 'segments',
    x: shares(0, 0.5),
    x2: shares(0, 0.5),
    y: shares(0, 0.2),
    y2: shares(1, 0.6),
    style: { width: 1, cap: 4 },
  },
  texts: {
    ...two,
    primitive: 'texts',
    x: shares(0.5, 0.9),
    y: shares(0.5, 0.1),
    dx: shares(3, 0),
    dy: shares(0, -4),
    words: ['Tarn', 'Brindle'],
    style: { size: 12, bold: true, halo: true, anchor: 'end', light: '#333333' },
  },
}

function painted(figure: Figure, selection: Selection | null = null, view: View = WHOLE, theme = LIGHT): string[] {
  const recorder = new Recorder()
  withCanvases(() => paintFigure(recorder.context, figure, 120, 100, view, { theme, selection, pixelRatio: 1 }))
  return recorder.calls
}

test('every primitive is painted as its golden says', () => {
  expect(Object.keys(LAYERS).sort()).toEqual(Object.keys(PAINT).sort())
  for (const [name, layer] of Object.entries(LAYERS)) {
    const calls = painted(figureOf(layer)).join('\n') + '\n'
    const golden = new URL(`golden/${name}.txt`, import.meta.url)
    if (process.env.UPDATE || !existsSync(golden)) writeFileSync(golden, calls)
    expect(calls, name).toBe(readFileSync(golden, 'utf8'))
  }
})

test('outlines, letters and groups in front are painted as they are said', () => {
  const { points, rects, paths } = LAYERS
  const rim = { light: '#16302e', dark: '#e3efec', width: 2 }
  const stamps = (layer: Layer, theme = LIGHT) => painted(figureOf(layer), null, WHOLE, theme).filter((c) => c.startsWith('drawImage'))
  expect(stamps({ ...points, style: { ...points.style, rim } })[0]).toContain('globalAlpha=1 strokeStyle="#16302e" lineWidth=2 stroke()')
  expect(stamps({ ...points, style: { ...points.style, rim } }, DARK)[0]).toContain('strokeStyle="#e3efec"')
  expect(painted(figureOf({ ...rects, style: { fill: true, rim } })).filter((c) => c === 'strokeStyle="#16302e"').length).toBe(1)
  expect(stamps({ ...points, keys: { colour: 1 }, shape: undefined, style: { largest_radius: 8, shape: 'A' } })[0]).toContain(
    'fillText("A"',
  )
  // The first row is of the first entry, which lies in front: it is painted last.
  expect(stamps({ ...points, radius: undefined, front: [0] }).map((c) => /fillStyle="(\S+)"/.exec(c)![1])).toEqual(['#222222', '#111111'])
  expect(painted(figureOf({ ...paths, front: [0] })).filter((c) => /strokeStyle="#(111111|222222)"/.test(c))).toEqual([
    'strokeStyle="#222222"',
    'strokeStyle="#111111"',
  ])
})

test('nothing but paper, grid and words is painted without layers', () => {
  const bare = painted(figureOf())
  for (const [name, layer] of Object.entries(LAYERS)) expect(painted(figureOf(layer)).length, name).toBeGreaterThan(bare.length + 3)
  expect(bare.filter((c) => c.startsWith('fillText'))).toEqual([
    'fillText("0", 12, 80)',
    'fillText("10", 12, 10)',
    'fillText("0", 20, 95.5)',
    'fillText("10", 100, 95.5)',
    'fillText("T", 0, 0)',
  ])
})

test('entries of a key are painted alone, and layers that it does not explain stay', () => {
  for (const [name, layer] of Object.entries(LAYERS)) {
    const all = painted(figureOf(layer)).length
    const alone = painted(figureOf(layer), { key: 1, entries: [1] })
    expect(alone.length, name).toBeLessThan(all)
    expect(painted(figureOf(layer), { key: 1, entries: [0, 1] }).length, name).toBe(all)
    expect(painted(figureOf({ ...layer, keys: {} }), { key: 1, entries: [9] }).length, name).toBe(
      painted(figureOf({ ...layer, keys: {} })).length,
    )
  }
})

test('a zoomed view moves marks, labels of ticks and the names of lines', () => {
  const named: Layer = {
    panel: 0,
    mark: 'fit',
    count: 1,
    primitive: 'texts',
    words: ['Tarn'],
    along: 1,
    x: shares(1),
    y: shares(0.5),
    dx: shares(7),
    dy: shares(0),
    style: { size: 12, above: true },
  }
  const figure = figureOf({ ...LAYERS.paths, count: 1, start: Uint32Array.of(0), x: shares(0, 1), y: shares(0, 0.5) }, named)
  const at = (calls: string[], text: string) => calls.filter((c) => c.startsWith(`fillText("${text}"`))
  expect(at(painted(figure), 'Tarn')).toEqual(['fillText("Tarn", 107, 45)'])
  const half = painted(figure, null, { u0: 0, u1: 0.5, v0: 0, v1: 1 })
  expect(at(half, 'Tarn')).toEqual(['fillText("Tarn", 107, 62.5)']) // at the last place of the line that is seen
  expect(at(half, '5')).toHaveLength(1)
  expect(at(half, '10')).toHaveLength(1) // along y alone
})

test('thousands of points are blended to the pixels that stamps would touch', () => {
  const count = SHEETS_ABOVE + 1
  const x = new Float32Array(count).fill(0.5)
  const y = new Float32Array(count).fill(0.5)
  x[7] = 0.25
  const layer: Layer = {
    panel: 0,
    mark: 'dots',
    primitive: 'points',
    count,
    x,
    y,
    style: { opacity: 1, fixed_radius: 1, light: '#102030' },
  }
  const put = painted(figureOf(layer)).find((c) => c.startsWith('drawImage(putImageData'))!
  expect(put).toContain('40,35:16 32 48')
  expect(put).toContain('20,35:16 32 48')
  expect(put).not.toContain('60,35')
})

test('thousands of points have outlines over what they are around', () => {
  const count = SHEETS_ABOVE + 1
  const [x, y] = [new Float32Array(count).fill(0.5), new Float32Array(count).fill(0.5)]
  const layer: Layer = {
    panel: 0,
    mark: 'dots',
    primitive: 'points',
    count,
    x,
    y,
    style: { opacity: 1, fixed_radius: 4, light: '#102030', rim: { light: '#ff0000', dark: '#00ff00', width: 2 } },
  }
  const put = (theme = LIGHT) => painted(figureOf(layer), null, WHOLE, theme).find((c) => c.startsWith('drawImage(putImageData'))!
  expect(put()).toContain('40,35:16 32 48') // inside
  expect(put()).toContain('44,35:255 0 0') // at the edge
  expect(put(DARK)).toContain('44,35:0 255 0')
})

test('dark paper has its own colours', () => {
  expect(painted(figureOf(LAYERS.rects), null, WHOLE, DARK).join()).toContain('fillStyle="#eeeeee"')
})

test('on a paper smaller than the layout no words stand over each other, names move, and what has no room is counted', () => {
  const figure = { width: 900, height: 560 } as Figure
  expect(Crowd.on(figure, 900, 560)).toBeUndefined()
  const crowd = Crowd.on(figure, 390, 300)!
  const label = { style: { size: 12, anchor: 'start' } } as Layer
  const name = { style: { size: 12, anchor: 'start' }, along: 1 } as Layer
  const at = (x: number, y: number) => ({ x, y })
  expect(crowd.seat(at(10, 50), 40, label)).toBe(true)
  expect(crowd.seat(at(30, 52), 40, label)).toBe(false)
  const moved = at(30, 52)
  expect(crowd.seat(moved, 40, name)).toBe(true)
  expect(moved.y).toBe(67)
  const late = at(380, 200)
  expect(crowd.seat(late, 40, label)).toBe(true)
  expect(late.x).toBe(348)
  expect(crowd.left).toBe(1)
})
