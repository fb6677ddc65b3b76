import { expect, test } from '@playwright/test'
import { Refusal, type Chart, type Document, type Drawing, type Step } from '../src/api/client'
import { Bench, type BenchServer } from '../src/state/bench'

const document: Document = { version: 3, y: { column: 'a' }, x: { column: 'b' } }
const logX = { scales: { x: { scale: 'log' as const } } }

/** Stands in for the server: draws what it is given, and counts what is kept. */
function server(refuse = '') {
  const kept: { parent: number; document: Document }[] = []
  const asked: string[] = []
  let next = 1
  const ask: BenchServer = {
    draw: async (_version, request) => {
      asked.push(JSON.stringify([request.document, ...(request.changes ?? [])]))
      if (refuse && JSON.stringify(request).includes(refuse)) throw new Refusal(422, 'no', 'say otherwise')
      return {
        document: (request.changes ?? []).reduce<Document>(
          (so, change) => ({ ...so, manner: { title: `${so.manner?.title ?? ''}${change.say}` } }),
          request.document ?? { ...document, manner: { title: request.typed } },
        ),
        figure: {},
        reading: {},
        spoken: [],
        typed: '',
        words: request.document?.colour?.column ?? '',
        small: `<svg>${request.document?.colour?.column}</svg>`,
      } as unknown as Drawing
    },
    addChart: async (_version, first) =>
      ({ id: 7, head_step_id: next, document: first, steps: [{ id: next++, document: first, words: 'first look' }] }) as unknown as Chart,
    addStep: async (_chart, parent, stated) => {
      if (refuse && stated.manner?.title === 'unkept') throw new Refusal(503, 'no room', 'wait')
      kept.push({ parent, document: stated })
      return { id: next++, parent_id: parent, document: stated, words: '' } as unknown as Step
    },
    moveTo: async () => {},
  }
  const bench = new Bench(1, document, null, ask)
  bench.resize(900, 500)
  return { bench, kept, asked }
}

test('a change is drawn and kept as a step after the one before', async () => {
  const { bench, kept } = server()
  await bench.change({ ...document, ...logX })
  await bench.change({ ...document, ...logX, size: { column: 's' } })
  await bench.settled()
  expect(kept.map((s) => s.parent)).toEqual([1, 2])
  expect(bench.get().steps).toHaveLength(3)
  await bench.walkTo(bench.previous()!)
  await bench.change({ ...document, colour: { column: 'c' } })
  await bench.settled()
  expect(kept[2].parent).toBe(2)
  expect(bench.get().document.colour?.column).toBe('c')
})

test('the first step has none before it, and the newest of two branches is the next', async () => {
  const { bench } = server()
  expect(bench.previous()).toBeUndefined()
  await bench.change({ ...document, colour: { column: 'a' } })
  await bench.settled()
  const first = bench.previous()!
  expect(first.words).toBe('first look')
  await bench.walkTo(first)
  await bench.change({ ...document, colour: { column: 'b' } })
  await bench.settled()
  await bench.walkTo(first)
  expect(bench.previous()).toBeUndefined()
  expect(bench.next()?.document?.colour?.column).toBe('b')
})

test('a press back before the last change is kept goes back from that change, and each press one step', async () => {
  const { bench } = server()
  await bench.change({ ...document, colour: { column: 'a' } })
  await bench.settled()
  await bench.change({ ...document, colour: { column: 'b' } }) // drawn, and on its way to be kept
  const walked = [bench.walk('back'), bench.walk('on'), bench.walk('back'), bench.walk('back')]
  await Promise.all(walked)
  expect(bench.get().document.colour).toBeUndefined()
  await bench.walk('on')
  expect(bench.get().document.colour?.column).toBe('a')
  await bench.walk('on')
  await bench.walk('on') // there is none
  expect(bench.get().document.colour?.column).toBe('b')
})

test('a change that follows before the one before is drawn begins with it', async () => {
  const { bench, kept } = server()
  const first = bench.change({ ...bench.get().document, size: { column: 's' } })
  const second = bench.change({ ...bench.get().document, colour: { column: 'c' } })
  expect(await Promise.all([first, second])).toEqual([false, true])
  await bench.settled()
  expect(bench.get().document).toMatchObject({ size: { column: 's' }, colour: { column: 'c' } })
  expect(kept.at(-1)!.document).toMatchObject({ size: { column: 's' }, colour: { column: 'c' } })
})

test('a trial is never kept and leaves all as it was', async () => {
  const { bench, kept } = server()
  await bench.preview({ ...document, colour: { column: 'c' } })
  expect(bench.get().preview?.document.colour?.column).toBe('c')
  expect(bench.get().document).toEqual(document)
  await bench.preview(null)
  await bench.settled()
  expect(bench.get().preview).toBeNull()
  expect(kept).toHaveLength(0)
})

test('what was tried is kept without being drawn again', async () => {
  const { bench, kept, asked } = server()
  const tried = { ...document, colour: { column: 'c' } }
  await bench.preview(tried)
  const drawn = asked.length
  expect(await bench.change(tried)).toBe(true)
  await bench.settled()
  expect(asked).toHaveLength(drawn)
  expect(kept.at(-1)!.document).toEqual(tried)
  await bench.preview({ ...document, size: { column: 's' } })
  await bench.preview(null) // taken away: it is asked for anew
  await bench.change({ ...document, size: { column: 's' } })
  expect(asked).toHaveLength(drawn + 2)
})

test('a refused change keeps the chart and says why', async () => {
  const { bench, kept } = server('wrong')
  await bench.change({ ...document, ...logX })
  expect(await bench.change({ ...document, colour: { column: 'wrong' } })).toBe(false)
  await bench.settled()
  expect(bench.get().document).toMatchObject(logX)
  expect(bench.get().refusal?.advice).toBe('say otherwise')
  expect(kept).toHaveLength(1)
})

test('another size draws again and takes no refusal and no change away', async () => {
  const { bench, kept } = server('wrong')
  await bench.change({ ...document, colour: { column: 'wrong' } })
  bench.resize(700, 400)
  await new Promise((done) => setTimeout(done, 5))
  expect(bench.get().refusal?.advice).toBe('say otherwise')
  expect(bench.get().drawing?.document).toEqual(document)
  const changing = bench.change({ ...document, size: { column: 's' } })
  bench.resize(500, 400)
  expect(await changing).toBe(true)
  await bench.settled()
  expect(bench.get().document.size?.column).toBe('s')
  expect(kept.at(-1)!.document.size?.column).toBe('s')
})

test('a step stands in the trail with its picture before it is kept, and leaves it when it cannot be', async () => {
  const { bench } = server('wrong')
  const seen: { drawn?: string; coming: string }[] = []
  bench.subscribe(() => seen.push({ drawn: bench.get().drawing?.words, coming: JSON.stringify(bench.get().coming) }))
  await bench.change({ ...document, colour: { column: 'c' } })
  await bench.settled()
  expect(seen.find((s) => s.drawn === 'c')?.coming).toBe('[{"words":"c","picture":"<svg>c</svg>"}]')
  expect(bench.get().coming).toEqual([])
  expect(bench.get().pictures.get(bench.get().at)).toBe('<svg>c</svg>')
  const steps = bench.get().steps.length
  await bench.change({ ...document, colour: { column: 'd' }, manner: { title: 'unkept' } })
  await bench.settled()
  expect(bench.get()).toMatchObject({ coming: [], unsaved: { message: 'no room' } })
  expect(bench.get().steps).toHaveLength(steps)
})

test('what is said before the last is drawn comes on top of it, and what is refused takes nothing else along', async () => {
  const { bench, kept } = server('wrong')
  const say = (line: string) => bench.amend({ say: [line] })
  await say('a')
  expect(await Promise.all([say('b'), say('c')])).toEqual([false, true]) // the first is overtaken, not lost
  await bench.settled()
  expect(bench.get().document.manner?.title).toBe('abc')
  expect(kept.map((s) => s.document.manner?.title)).toEqual(['a', 'abc'])
  expect(await say('wrong')).toBe(false)
  expect(bench.get().document.manner?.title).toBe('abc')
  expect(await say('d')).toBe(true)
  expect(bench.get().document.manner?.title).toBe('abcd')
  const [first, second] = await Promise.all([say('e'), say('wrong')])
  expect([first, second]).toEqual([false, false])
  await expect.poll(() => bench.get().document.manner?.title).toBe('abcde')
})
