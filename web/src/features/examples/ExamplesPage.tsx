import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type Example, type Me } from '../../api/client'
import { counted } from '../../scale/format'
import { Shell } from '../../ui/Shell'
import { Trouble, Waiting } from '../../ui/Words'

const PICTURES = import.meta.glob<string>('../../../../docs/gallery/*.png', { eager: true, query: '?url', import: 'default' })
const pictureOf = (name: string) => PICTURES[`../../../../docs/gallery/${name}.png`]

/** What can be said, each with its picture and its sentence; a press makes a chart of one's own of it. */
export function ExamplesPage({ me }: { me: Me }) {
  const examples = useQuery({ queryKey: ['examples'], queryFn: api.examples })
  const [search, setSearch] = useState('')
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const found = examples.data?.filter((e) => words.every((w) => `${e.name} ${e.does} ${e.typed}`.toLowerCase().includes(w))) ?? []
  return (
    <Shell me={me} view="Examples" headed>
      <main className="flex-1 overflow-auto px-6 py-6">
        <div className="mx-auto max-w-6xl">
          <h1 className="font-serif text-2xl font-semibold">Examples</h1>
          <p className="mt-1 mb-4 text-muted">
            What can be said, drawn from the sample data of Thornwick apiaries. Press one to have it as a chart of your own.
          </p>
          <div className="mb-5 flex items-baseline gap-3">
            <input
              className="field max-w-80"
              type="search"
              aria-label="Find an example"
              placeholder="Find an example"
              value={search}
              onChange={(e) => setSearch(e.target.value)}
            />
            <span className="text-[13px] text-muted" role="status">
              {search && counted(found.length, 'example')}
            </span>
          </div>
          {examples.error && <Trouble message={examples.error.message} />}
          {examples.isPending && <Waiting what="Looking for examples" />}
          {examples.data?.every((e) => !e.dataset_id) && (
            <p className="mb-4 text-[13px] text-muted">
              This space does not hold the sample data, so they can be looked at and not opened; their sentences work on tables of yours,
              with other columns.
            </p>
          )}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))] gap-4">
            {found.map((example) => (
              <Shown key={example.name} example={example} />
            ))}
          </ul>
        </div>
      </main>
    </Shell>
  )
}

function Shown({ example }: { example: Example }) {
  const navigate = useNavigate()
  const { name, does, typed, picture, dataset_id: dataset, document } = example
  const inside = (
    <>
      <img src={pictureOf(picture)} alt="" width={440} height={300} loading="lazy" className="block w-full bg-white" />
      <span className="block border-t border-line bg-strip px-4 py-3">
        <span className="block font-serif text-lg font-semibold">{name}</span>
        <span className="block text-[13px] text-muted">{does}</span>
        <code className="mt-2 block text-xs leading-relaxed whitespace-pre-wrap">{typed}</code>
      </span>
    </>
  )
  const frame = 'flex flex-col h-full w-full overflow-hidden rounded-xl border border-line bg-strip text-left'
  return (
    <li>
      {dataset ? (
        <button
          type="button"
          className={`${frame} hover:border-copper`}
          onClick={() => void navigate(`/dataset/${dataset}/chart?new=${Date.now()}`, { state: { document } })}
        >
          {inside}
        </button>
      ) : (
        <div className={frame}>{inside}</div>
      )}
    </li>
  )
}
