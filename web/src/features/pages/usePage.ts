import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { api, type Block, type Chart, type PageDrawing, type StoryPage } from '../../api/client'
import { Linked } from '../../interact/linked'
import { blockId, LOOK_EVERY, moved, PageDraft, placed, type DraftState } from '../../state/pageDraft'
import type { BlockHand } from './BlockView'
import type { SharedAxes } from './PageChart'
import type { TextHand } from './TextEditor'

const SHELF = (id: number) => `lark-page-${id}`

/** The draft of a page, kept in the browser until the server has it, while its view is open. */
function useDraft(page: StoryPage): PageDraft {
  const queries = useQueryClient()
  const [draft] = useState(
    () =>
      new PageDraft(
        page,
        { write: (base, contents) => api.writePage(page.id, base, contents), again: () => api.pageAgain(page.id) },
        {
          get: () => localStorage.getItem(SHELF(page.id)),
          set: (text) => (text === null ? localStorage.removeItem(SHELF(page.id)) : localStorage.setItem(SHELF(page.id), text)),
        },
      ),
  )
  useEffect(() => {
    const look = setInterval(() => void draft.look(), LOOK_EVERY)
    const leaving = () => void draft.flush()
    addEventListener('pagehide', leaving)
    return () => {
      clearInterval(look)
      removeEventListener('pagehide', leaving)
      void draft.flush()
      void queries.invalidateQueries({ queryKey: ['pages'] })
    }
  }, [draft, queries])
  return draft
}

/** Tied words follow their charts: at the opening, and whenever a chart is drawn anew. */
function useFollowed(draft: PageDraft, drawings: Record<string, PageDrawing | null>, writes: boolean): void {
  const said = JSON.stringify(Object.values(drawings).map((d) => d?.said))
  useEffect(() => {
    const asked = draft.get().contents
    if (!writes || !asked.blocks.some((b) => b.text?.includes('](reading:'))) return
    let gone = false
    void api.followed(asked).then(
      ({ contents: followed }) => {
        if (gone) return
        const was = new Map(asked.blocks.map((b) => [b.id, b.text]))
        const is = new Map(followed.blocks.map((b) => [b.id, b.text]))
        const follows = (b: Block) => is.has(b.id) && was.get(b.id) === b.text && is.get(b.id) !== b.text
        draft.change('follow', (now) =>
          now.blocks.some(follows) ? { ...now, blocks: now.blocks.map((b) => (follows(b) ? { ...b, text: is.get(b.id) } : b)) } : now,
        )
      },
      () => {}, // they follow the next time
    )
    return () => {
      gone = true
    }
  }, [said, writes, draft])
}

const OWN: SharedAxes = { page: 0, charts: '' }

/** Which axes the charts have: as the server has it, who draws them. */
function useAxes(page: number, { contents, status }: DraftState): SharedAxes {
  const said = contents.same_axes ? JSON.stringify(contents.blocks.map((b) => b.chart)) : ''
  const [axes, setAxes] = useState(said ? { page, charts: said } : OWN)
  if (status === 'kept' && said !== axes.charts) setAxes(said ? { page, charts: said } : OWN)
  return axes
}

/** All that the view of a page knows and can do. */
export function usePage(page: StoryPage, writes: boolean) {
  const draft = useDraft(page)
  const state = useSyncExternalStore(draft.listen, draft.get)
  const { contents } = state
  const [here, setHere] = useState(contents.blocks[0]?.id ?? '')
  const [drawings, setDrawings] = useState<Record<string, PageDrawing | null>>({})
  const texts = useRef(new Map<string, TextHand>())
  const together = useRef(new Map<number, Linked>())
  const linked = useCallback((version: number) => {
    const found = together.current.get(version) ?? new Linked()
    together.current.set(version, found)
    return found
  }, [])
  useFollowed(draft, drawings, writes)
  const axes = useAxes(page.id, state)

  const insert = (after: string, block: Omit<Block, 'id'>) => {
    const made = { id: blockId(), ...block }
    draft.change('insert', (c) => {
      const at = c.blocks.findIndex((b) => b.id === after)
      const blocks = [...c.blocks]
      blocks.splice(at < 0 ? (after === '' ? 0 : blocks.length) : at + 1, 0, made)
      return { ...c, blocks }
    })
    setHere(made.id)
    return made.id
  }
  const put = (chart: Pick<Chart, 'id'>, after = here) => {
    const block = contents.blocks.find((b) => b.id === after)
    if (block && !block.chart) draft.changeBlock('put', after, (b) => ({ ...b, chart: { id: chart.id } }))
    else insert(after || (contents.blocks.at(-1)?.id ?? ''), { chart: { id: chart.id }, text: '' })
  }
  const writeAfter = (after: string) => {
    const id = insert(after, { text: '' })
    requestAnimationFrame(() => texts.current.get(id)?.focus())
  }
  const handOf = (block: Block): BlockHand => ({
    write: (text) => draft.changeBlock('write', block.id, (b) => ({ ...b, text })),
    place: (place) => draft.changeBlock('place', block.id, (b) => ({ ...b, place })),
    follow: (step) => draft.changeBlock('step', block.id, (b) => ({ ...b, chart: b.chart && { id: b.chart.id, step } })),
    take: () => draft.changeBlock('chart', block.id, (b) => ({ ...b, chart: undefined })),
    copy: () => void insert(block.id, { text: block.text, chart: block.chart, place: block.place }),
    out: () => draft.change('out', (c) => ({ ...c, blocks: c.blocks.filter((b) => b.id !== block.id) })),
    move: (by) => draft.change('move', (c) => moved(c, block.id, by)),
    dropped: (id) =>
      draft.change('move', (c) =>
        placed(
          c,
          id,
          c.blocks.findIndex((b) => b.id === block.id),
        ),
      ),
  })
  return {
    draft,
    state,
    here,
    setHere,
    drawings,
    drawn: (id: string, drawing: PageDrawing | null) => setDrawings((all) => ({ ...all, [id]: drawing })),
    text: (id: string, hand: TextHand | null) => void (hand ? texts.current.set(id, hand) : texts.current.delete(id)),
    say: (key: string, words: string) => texts.current.get(here)?.tie(key, words),
    linked,
    axes,
    put,
    writeAfter,
    handOf,
    forget: () => {
      draft.end()
      localStorage.removeItem(SHELF(page.id))
    },
  }
}

export type PageHand = ReturnType<typeof usePage>
