import { expect, test } from '@playwright/test'
import type { Contents, StoryPage } from '../src/api/client'
import { moved, PageDraft, placed, SEND_AFTER, type Shelf } from '../src/state/pageDraft'

const contents = (...texts: string[]): Contents => ({ version: 1, title: 'T', blocks: texts.map((text, i) => ({ id: `b${i}`, text })) })
const page = (of: Contents, revision = 1) =>
  ({
    id: 1,
    revision,
    contents: of,
    by: 'A',
    changed_by: 'A',
    created_at: '2032-03-12T08:00:00Z',
    changed_at: '2032-03-12T08:00:00Z',
  }) as StoryPage

/** A server that takes what is written, after a moment, or fails; and a shelf in memory. */
function world(start = contents('one', 'two')) {
  let waiting: string | null = null
  const shelf: Shelf = { get: () => waiting, set: (text) => void (waiting = text) }
  const sent: { base: Contents; mine: Contents }[] = []
  const server = {
    answers: [] as ((mine: Contents) => Contents)[],
    fails: false,
    hold: null as Promise<void> | null,
    write: async (base: Contents, mine: Contents) => {
      sent.push({ base, mine })
      await server.hold
      if (server.fails) throw new Error('the server cannot be reached')
      return { ...page((server.answers.shift() ?? ((m) => m))(mine)), twice: 0 }
    },
    again: async () => page(contents('one', 'theirs')),
  }
  return { draft: new PageDraft(page(start), server, shelf), server, shelf, sent }
}

const write = (draft: PageDraft, id: string, text: string) => draft.changeBlock('write', id, (b) => ({ ...b, text }))
const texts = (draft: PageDraft) => draft.get().contents.blocks.map((b) => b.text)

test('what is written is sent once, soon, with what it was made from, and then it is kept', async () => {
  const { draft, sent, shelf } = world()
  write(draft, 'b0', 'o')
  write(draft, 'b0', 'on')
  expect(draft.get().status).toBe('waiting')
  expect(JSON.parse(shelf.get()!).contents.blocks[0].text).toBe('on')
  await new Promise((done) => setTimeout(done, SEND_AFTER + 100))
  expect(sent).toHaveLength(1)
  expect(sent[0].base.blocks[0].text).toBe('one')
  expect(sent[0].mine.blocks[0].text).toBe('on')
  expect(draft.get().status).toBe('kept')
  expect(shelf.get()).toBeNull()
})

test('what is written while something is sent is sent on top of it, and what others wrote comes in', async () => {
  const { draft, server, sent } = world()
  let free = () => {}
  server.hold = new Promise((done) => (free = done))
  server.answers.push((mine) => ({ ...mine, blocks: [...mine.blocks, { id: 'theirs', text: 'beside' }] }))
  write(draft, 'b0', 'first')
  const going = draft.flush()
  write(draft, 'b1', 'second')
  free()
  await going
  server.answers.push((mine) => ({ ...mine, blocks: [...mine.blocks, { id: 'theirs', text: 'beside' }] }))
  await draft.flush()
  expect(sent[1].base.blocks.map((b) => b.text)).toEqual(['first', 'two']) // what the second was made from
  expect(texts(draft)).toEqual(['first', 'second', 'beside'])
  expect(draft.get().status).toBe('kept')
})

test('a server that is away loses nothing, and another window goes on with what waits', async () => {
  const { draft, server, shelf } = world()
  server.fails = true
  write(draft, 'b0', 'kept on the shelf')
  await draft.flush()
  expect(draft.get()).toMatchObject({ status: 'trying', trouble: 'the server cannot be reached' })
  server.fails = false
  const next = new PageDraft(page(contents('one', 'two')), server, shelf)
  expect(texts(next)[0]).toBe('kept on the shelf')
  await next.flush()
  expect(next.get().status).toBe('kept')
  draft.end()
})

test('others are looked at only while nothing of one’s own waits', async () => {
  const { draft } = world()
  write(draft, 'b0', 'mine')
  await draft.look()
  expect(texts(draft)).toEqual(['mine', 'two'])
  await draft.flush()
  await draft.look()
  expect(texts(draft)).toEqual(['one', 'theirs'])
})

test('undo takes back a run of letters at once, then what was before', () => {
  const { draft } = world()
  write(draft, 'b0', 'a')
  write(draft, 'b0', 'ab')
  draft.change('out', (c) => ({ ...c, blocks: c.blocks.slice(1) }))
  draft.undo()
  expect(texts(draft)).toEqual(['ab', 'two'])
  draft.undo()
  expect(texts(draft)).toEqual(['one', 'two'])
  expect(draft.canUndo).toBe(false)
  draft.undo()
  expect(texts(draft)).toEqual(['one', 'two'])
  draft.end()
})

test('blocks move among each other and not beyond the ends', () => {
  const of = contents('a', 'b', 'c')
  const order = (c: Contents) => c.blocks.map((b) => b.text).join('')
  expect(order(moved(of, 'b1', -1))).toBe('bac')
  expect(order(placed(of, 'b0', 2))).toBe('bca')
  for (const nowhere of [moved(of, 'b0', -1), moved(of, 'b2', 1), placed(of, 'x', 1), placed(of, 'b0', 9)]) expect(nowhere).toBe(of)
})
