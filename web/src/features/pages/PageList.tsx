import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, type ListedPage, type Refusal } from '../../api/client'
import { inSpace } from '../../api/space'
import { useMakes } from '../../ui/may'
import { moment } from '../../ui/moment'
import { isWanted, type Wanted } from '../front/wanted'
import { usePeople } from '../notes/NoteText'
import { Trouble, Waiting } from '../../ui/Words'

/** The pages of the space, by their pictures, found by any word in them. */
export function PageList({ wanted }: { wanted: Wanted }) {
  const { find } = wanted
  const maker = usePeople().find((p) => p.id === wanted.maker)
  const pages = useQuery({ queryKey: ['pages', find], queryFn: () => api.pages(find), placeholderData: (before) => before })
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const makes = useMakes()
  const begin = async () => {
    setTrouble(null)
    try {
      const made = await api.addPage()
      await queries.invalidateQueries({ queryKey: ['pages'] })
      navigate(`/page/${made.id}`)
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  const list = (pages.data ?? []).filter((p) => !maker || p.by === maker.name)
  if (isWanted(wanted) && (list.length === 0 || wanted.dataset !== 0)) return null
  return (
    <section aria-label="Pages">
      <div className="mb-3 flex flex-wrap items-baseline gap-4">
        <h2 className="font-serif text-xl font-semibold">Pages</h2>
        {makes && (
          <button type="button" className="link text-[13px]" onClick={() => void begin()}>
            New page
          </button>
        )}
      </div>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      {pages.isPending ? (
        <Waiting what="Looking for pages" />
      ) : list.length > 0 ? (
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-4">
          {list.map((page) => (
            <PageTile key={page.id} page={page} />
          ))}
        </ul>
      ) : (
        <p className="text-muted">No pages yet.{makes && ' A page tells a story with several charts, for readers without an account.'}</p>
      )}
    </section>
  )
}

function PageTile({ page }: { page: ListedPage }) {
  return (
    <li className="overflow-hidden rounded-xl border border-line bg-paper hover:border-copper">
      <Link to={`/page/${page.id}`} className="block">
        <span className="block h-[140px] overflow-hidden px-4 pt-3">
          <span className="line-clamp-2 font-serif text-[15px] leading-5 font-semibold wrap-anywhere">{page.title || 'Untitled page'}</span>
          <span className="mt-2 flex gap-2">
            {page.charts.slice(0, 2).map((chart) => (
              <img
                key={`${chart.id} ${chart.step}`}
                alt=""
                loading="lazy"
                className="min-w-0 flex-1 rounded border border-line"
                style={{ aspectRatio: '120 / 76' }}
                src={inSpace(
                  `/api/charts/${chart.id}/steps/${chart.step ?? 0}/picture.svg?width=120&height=76&at=${encodeURIComponent(page.changed_at)}`,
                )}
              />
            ))}
          </span>
        </span>
        <span className="block border-t border-line bg-strip px-3 py-2">
          <span className="block truncate text-[13px] text-muted">
            {page.by && `${page.by} · `}
            {moment(page.changed_at)}
          </span>
        </span>
      </Link>
    </li>
  )
}
