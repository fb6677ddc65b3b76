import { expect, test } from '@playwright/test'
import { Drag, type Dragged } from '../src/interact/drag'
import type { Frame, View } from '../src/painter/geometry'
import { LIGHT } from '../src/painter/theme'

/** A panel of 100 by 200 pixels, of which the upper right quarter of the whole is seen. */
const VIEW: View = { u0: 0.5, u1: 1, v0: 0.5, v1: 1 }
const frame: Frame = { left: 10, top: 20, width: 100, height: 200, view: VIEW }

/** Drags from a place over others, lets go at the last, and gives what happened. */
function dragged(kind: 'zoom' | 'pan' | 'choose', ...places: [number, number][]) {
  const happened: (string | View | [number, number][])[] = []
  const rounded = (v: View) =>
    Object.fromEntries(Object.entries(v).map(([end, at]) => [end, Math.round(1000 * at) / 1000])) as unknown as View
  const on: Dragged = {
    hideCard: () => happened.includes('no card') || happened.push('no card'),
    overlay: () => new Proxy({} as CanvasRenderingContext2D, { get: () => () => {}, set: () => true }),
    theme: () => LIGHT,
    setView: (view) => happened.push(rounded(view)),
    choose: (outline) => happened.push(outline),
  }
  const [from, ...over] = places
  const drag = new Drag(kind, frame, from, VIEW)
  for (const [x, y] of over) drag.to(x, y, on)
  drag.end(...(over.at(-1) ?? from), on)
  return { happened, moved: drag.moved }
}

test('a part is zoomed to from any of its corners', () => {
  const part = { u0: 0.6, u1: 0.8, v0: 0.7, v1: 0.9 }
  for (const corners of [
    [
      [30, 60],
      [70, 140],
    ],
    [
      [70, 140],
      [30, 60],
    ],
    [
      [30, 140],
      [70, 60],
    ],
    [
      [70, 60],
      [30, 140],
    ],
  ] as [number, number][][])
    expect(dragged('zoom', ...corners)).toEqual({ happened: ['no card', part], moved: true })
})

test('a press that trembles stays one, and a sliver is no part', () => {
  for (const kind of ['zoom', 'pan', 'choose'] as const)
    expect(dragged(kind, [50, 50], [52, 53], [48, 49])).toEqual({ happened: [], moved: false })
  expect(dragged('zoom', [50, 50], [57, 150])).toEqual({ happened: ['no card'], moved: true })
  expect(dragged('zoom', [50, 50], [90, 56])).toEqual({ happened: ['no card'], moved: true })
  // Once it is dragged, it is although it comes back.
  expect(dragged('pan', [50, 50], [80, 50], [51, 50]).happened.at(-1)).toEqual({ u0: 0.495, u1: 0.995, v0: 0.5, v1: 1 })
})

test('what is panned goes with the pointer, from where the view was when it was taken hold of', () => {
  expect(dragged('pan', [50, 50], [60, 90], [70, 30]).happened).toEqual([
    'no card',
    { u0: 0.45, u1: 0.95, v0: 0.6, v1: 1.1 },
    { u0: 0.4, u1: 0.9, v0: 0.45, v1: 0.95 },
  ])
})

test('an outline is told whole when it is let go', () => {
  const places: [number, number][] = [
    [20, 30],
    [60, 30],
    [60, 90],
    [20, 90],
  ]
  expect(dragged('choose', ...places).happened).toEqual(['no card', places])
})
