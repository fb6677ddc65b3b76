import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore, type DragEvent } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, Refusal, type Block, type Chart, type Me, type PageDrawing, type StoryPage } from '../../api/client'
import { Linked } from '../../interact/linked'
import { counted } from '../../scale/format'
import { blockId, LOOK_EVERY, moved, PageDraft, placed } from '../../state/pageDraft'
import { useMakes } from '../../ui/may'
import { moment } from '../../ui/moment'
import { Shell } from '../../ui/Shell'
import { Trouble, Waiting, Words } from '../../ui/Words'
import { Beside } from './Beside'
import { BlockView, type BlockHand } from './BlockView'
import { Earlier } from './Earlier'
import { Line } from './Line'
import { SharePage } from './SharePage'
import type { TextHand } from './TextEditor'

/** A page, written in place. */
export function PagePage({ me }: { me: Me }) {
  const id = Number(useParams().page)
  const page = useQuery({ queryKey: ['page', id], queryFn: () => api.page(id), refetchOnWindowFocus: false, staleTime: 0, gcTime: 0 })
  if (page.error instanceof Refusal && page.error.status === 404)
    return <Words title="There is no page here" text="It was deleted, or it belongs to another space." />
  if (!page.data)
    return (
      <Shell me={me} view="Page">
        <main className="flex-1">{page.error ? <Trouble message={page.error.message} /> : <Waiting what="Opening the page" />}</main>
      </Shell>
    )
  return <Writer key={id} me={me} page={page.data} />
}

const SHELF = (id: number) => `lark-page-${id}`

function Writer({ me, page }: { me: Me; page: StoryPage }) {
  const makes = useMakes()
  const navigate = useNavigate()
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
  const state = useSyncExternalStore(draft.listen, draft.get)
  const { contents } = state
  const [here, setHere] = useState(contents.blocks[0]?.id ?? '')
  const [drawings, setDrawings] = useState<Record<string, PageDrawing | null>>({})
  const [earlier, setEarlier] = useState(false)
  const [sharing, setSharing] = useState(false)
  const texts = useRef(new Map<string, TextHand>())
  const together = useRef(new Map<number, Linked>())
  const linked = useCallback((version: number) => {
    const found = together.current.get(version) ?? new Linked()
    together.current.set(version, found)
    return found
  }, [])
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

  // Tied words follow their charts: at the opening, and whenever a chart is drawn anew.
  const said = JSON.stringify(Object.values(drawings).map((d) => d?.said))
  useEffect(() => {
    if (!makes || !contents.blocks.some((b) => b.text?.includes('](reading:'))) return
    let gone = false
    const asked = draft.get().contents
    void api.followed(asked).then(
      ({ contents: followed }) => {
        if (gone) return
        const was = new Map(asked.blocks.map((b) => [b.id, b.text]))
        const is = new Map(followed.blocks.map((b) => [b.id, b.text]))
        draft.change('follow', (now) => {
          const follows = (b: Block) => is.has(b.id) && was.get(b.id) === b.text && is.get(b.id) !== b.text
          return now.blocks.some(follows) ? { ...now, blocks: now.blocks.map((b) => (follows(b) ? { ...b, text: is.get(b.id) } : b)) } : now
        })
      },
      () => {},
    ) // they follow the next time
    return () => {
      gone = true
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [said, makes, draft])

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
  const writeAfter = (after: string) => {
    const id = insert(after, { text: '' })
    requestAnimationFrame(() => texts.current.get(id)?.focus())
  }
  const put = (chart: Pick<Chart, 'id'>, after = here) => {
    const block = contents.blocks.find((b) => b.id === after)
    if (block && !block.chart) draft.changeBlock('put', after, (b) => ({ ...b, chart: { id: chart.id } }))
    else insert(after || (contents.blocks.at(-1)?.id ?? ''), { chart: { id: chart.id }, text: '' })
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
  const dropChart = (e: DragEvent, after: string) => {
    const id = Number(e.dataTransfer.getData('application/x-lark-chart'))
    if (!id) return
    e.preventDefault()
    e.stopPropagation()
    put({ id }, after)
  }
  const title = contents.title || 'Untitled page'
  const drop = async () => {
    if (!confirm(`Delete the page “${title}”? What is shared of it stays until it is withdrawn.`)) return
    draft.end()
    localStorage.removeItem(SHELF(page.id))
    await api.dropPage(page.id)
    await queries.invalidateQueries({ queryKey: ['pages'] })
    navigate('/')
  }
  const duplicate = async () => {
    await draft.flush()
    const copy = await api.addPage({ ...draft.get().contents, title: `Copy of ${title}`.slice(0, 500) })
    navigate(`/page/${copy.id}`)
  }
  const drawing = drawings[here] ?? null
  const readOnly = useMemo(() => !makes, [makes])
  return (
    <Shell
      me={me}
      view="Page"
      title={title}
      headed
      here={<span className="truncate text-bar-ink">{title}</span>}
      action={
        makes && (
          <button type="button" className="button-bright" onClick={() => void draft.flush().then(() => setSharing(true))}>
            Share…
          </button>
        )
      }
      skips={[
        ['the page', '#sheet'],
        ['what can be put in', 'aside'],
      ]}
    >
      <div className="flex min-h-0 flex-1 slim:flex-col">
        <div className="flex min-w-0 flex-1 flex-col">
          <main id="sheet" className="min-h-0 flex-1 overflow-auto px-9 py-4.5 max-[1100px]:px-4">
            <div
              className="mx-auto max-w-[1040px] rounded-[10px] border border-line bg-paper px-4 py-6"
              inert={readOnly ? true : undefined}
              onDragOver={(e) => e.dataTransfer.types.includes('application/x-lark-chart') && e.preventDefault()}
              onDrop={(e) => dropChart(e, contents.blocks.at(-1)?.id ?? '')}
            >
              <div className="px-5">
                <h1 className="sr-only">{title}</h1>
                <Line
                  label="Title of the page"
                  hint="Title of the page"
                  className="font-serif text-[28px] leading-9 font-semibold"
                  most={500}
                  text={contents.title}
                  write={(text) => draft.change('title', (c) => ({ ...c, title: text }))}
                />
                <Line
                  label="Under the title"
                  hint="What it comes to, in a sentence or two"
                  className="font-serif text-base leading-6"
                  most={2000}
                  text={contents.lead ?? ''}
                  write={(text) => draft.change('lead', (c) => ({ ...c, lead: text }))}
                />
                <hr className="mt-3 mb-3 border-line" />
              </div>
              <Between
                write={() => writeAfter('')}
                put={() => document.querySelector<HTMLElement>('[aria-label="Find a chart"]')?.focus()}
                come={() => setHere('')}
              />
              {contents.blocks.map((block, i) => (
                <div
                  key={block.id}
                  onDragOver={(e) => e.dataTransfer.types.includes('application/x-lark-chart') && e.preventDefault()}
                  onDrop={(e) => dropChart(e, block.id)}
                >
                  <BlockView
                    block={block}
                    number={i + 1}
                    here={here === block.id}
                    linked={linked}
                    come={() => setHere(block.id)}
                    drawn={(next) => setDrawings((all) => ({ ...all, [block.id]: next }))}
                    dataset={drawings[block.id]?.chart.dataset_id ?? 0}
                    hand={handOf(block)}
                    text={(hand) => (hand ? texts.current.set(block.id, hand) : texts.current.delete(block.id))}
                  />
                  <Between
                    write={() => writeAfter(block.id)}
                    put={() => document.querySelector<HTMLElement>('[aria-label="Find a chart"]')?.focus()}
                    come={() => setHere(block.id)}
                    last={i === contents.blocks.length - 1}
                  />
                </div>
              ))}
              {contents.blocks.length === 0 && (
                <p className="px-5 py-6 text-muted">
                  This page is empty. Press a chart on the right to put it in, or{' '}
                  <button type="button" className="link" onClick={() => writeAfter('')}>
                    begin with a text
                  </button>
                  .
                </p>
              )}
            </div>
          </main>
          {makes && (
            <footer className="flex min-h-9 flex-wrap items-center gap-x-5 gap-y-1 border-t border-line bg-strip px-5 py-1.5 text-[13px]">
              <Status state={state} />
              {state.twice > 0 && (
                <span role="alert" className="text-copper">
                  Somebody wrote in the same block: both texts are kept, one behind the other.
                </span>
              )}
              <span className="ml-auto flex flex-wrap gap-5">
                <button type="button" className="link" onClick={() => draft.undo()}>
                  undo
                </button>
                <button type="button" className="link" onClick={() => setEarlier(true)}>
                  earlier versions
                </button>
                <button type="button" className="link" onClick={() => void duplicate()}>
                  duplicate
                </button>
                <button type="button" className="link" onClick={() => void drop()}>
                  delete
                </button>
              </span>
            </footer>
          )}
        </div>
        {makes && <Beside put={(chart) => put(chart)} drawing={drawing} say={(key, words) => texts.current.get(here)?.tie(key, words)} />}
      </div>
      {sharing && <SharePage me={me} page={page.id} contents={contents} drawings={drawings} close={() => setSharing(false)} />}
      {earlier && (
        <Earlier
          page={page.id}
          close={() => setEarlier(false)}
          back={(was) => {
            draft.change('earlier', () => was)
            setEarlier(false)
          }}
        />
      )}
    </Shell>
  )
}

/** Whether what was written is kept. */
function Status({ state }: { state: ReturnType<PageDraft['get']> }) {
  const { status, keptAt, changedBy, trouble, contents } = state
  if (status === 'trying')
    return (
      <span role="status" className="text-copper">
        not saved yet; trying again ({trouble})
      </span>
    )
  if (status !== 'kept') return <span role="status">saving…</span>
  const ago = Date.now() - keptAt
  return (
    <span role="status">
      saved {ago < 60_000 ? 'a moment ago' : moment(new Date(keptAt).toISOString())}
      {changedBy && ` · last written by ${changedBy}`} · {counted(contents.blocks.length, 'block')}
    </span>
  )
}

/** Between two blocks: what can be put there. */
function Between({ write, put, come, last = false }: { write: () => void; put: () => void; come: () => void; last?: boolean }) {
  return (
    <div
      className={`flex items-center gap-4 px-5 text-[12.5px] focus-within:opacity-100 hover:opacity-100 ${last ? 'py-2' : 'h-4 opacity-0'}`}
    >
      <button type="button" className="link" onClick={write}>
        write here
      </button>
      <button
        type="button"
        className="link"
        onClick={() => {
          come()
          put()
        }}
      >
        put a chart here
      </button>
    </div>
  )
}
