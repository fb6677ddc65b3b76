import { useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { api, Refusal, type Me, type Note, type StoryPage } from '../../api/client'
import { inSpace } from '../../api/space'
import { useMakes } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { Trouble, Waiting, Words } from '../../ui/Words'
import { useNoteOfAddress } from '../notes/useChartNotes'
import { useNotes } from '../notes/useNotes'
import { Others } from '../together/Others'
import { useSubject } from '../together/useSubject'
import { Beside } from './Beside'
import { Earlier } from './Earlier'
import { Foot } from './Foot'
import { SharePage } from './SharePage'
import { Sheet } from './Sheet'
import { useStanding } from './useStanding'
import { usePage } from './usePage'

/** A page, written in place; for readers it is read. */
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
  return <OpenPage key={id} me={me} page={page.data} />
}

function OpenPage({ me, page }: { me: Me; page: StoryPage }) {
  const makes = useMakes()
  const hand = usePage(page, makes)
  const { contents } = hand.state
  const [earlier, setEarlier] = useState(false)
  const [search] = useSearchParams()
  const [sharing, setSharing] = useState(search.has('share') && makes)
  const notes = useNotes(useMemo(() => ({ page_id: page.id }), [page.id]))
  const [lit, setLit] = useState(0)
  useNoteOfAddress(
    notes.notes,
    useCallback((note: Note) => setLit(note.id), []),
  )
  const together = useSubject(
    'pages',
    page.id,
    me,
    useCallback(() => void hand.draft.look(), [hand.draft]),
  )
  const stand = useStanding(hand, together)
  const title = contents.title || 'Untitled page'
  return (
    <Shell
      me={me}
      view="Page"
      title={title}
      headed
      here={<span className="truncate text-bar-ink">{title}</span>}
      others={<Others here={together.others} />}
      action={
        makes && (
          <Actions page={page.id} share={() => void hand.draft.flush().then(() => setSharing(true))} flush={() => hand.draft.flush()} />
        )
      }
      skips={[['the page', '#sheet'], ...(makes ? [['what can be put in', 'aside'] as [string, string]] : [])]}
    >
      <div className="flex min-h-0 flex-1 slim:flex-col">
        <div className="flex min-w-0 flex-1 flex-col">
          <main id="sheet" className="min-h-0 flex-1 overflow-auto px-9 py-4.5 max-[1100px]:px-4">
            <Sheet title={title} hand={hand} writes={makes} together={together} stand={stand} notes={notes} me={me} lit={lit} />
          </main>
          {makes && <Foot page={page.id} title={title} hand={hand} together={together} earlier={() => setEarlier(true)} />}
        </div>
        {makes && <Beside put={(chart) => hand.put(chart)} drawing={hand.drawings[hand.here] ?? null} say={hand.say} />}
      </div>
      {sharing && <SharePage me={me} page={page.id} contents={contents} drawings={hand.drawings} close={() => setSharing(false)} />}
      {earlier && (
        <Earlier
          page={page.id}
          close={() => setEarlier(false)}
          back={(was) => {
            hand.draft.change('earlier', () => was)
            setEarlier(false)
          }}
        />
      )}
    </Shell>
  )
}

/** In the bar: the page as a reader would get it, and sharing it. */
function Actions({ page, share, flush }: { page: number; share: () => void; flush: () => Promise<void> }) {
  return (
    <>
      <form
        method="post"
        action={inSpace(`/api/pages/${page}/look`)}
        target="_blank"
        onSubmit={(e) => {
          e.preventDefault()
          const form = e.currentTarget
          void flush().then(() => form.submit())
        }}
      >
        <input type="hidden" name="wanted" value="{}" readOnly />
        <button className="rounded-lg border border-bar-muted px-3 py-1.5 text-bar-ink hover:bg-bar-here">Look as a reader</button>
      </form>
      <button type="button" className="button-bright" onClick={share}>
        Share…
      </button>
    </>
  )
}
