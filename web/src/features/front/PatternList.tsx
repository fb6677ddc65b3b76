import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Pattern } from '../../api/client'
import { useMakes } from '../../ui/may'
import { moment } from '../../ui/moment'
import { FitDialog } from '../again/FitDialog'
import { ChartPicture } from '../chart/ChartPicture'
import type { Wanted } from './wanted'

/** The patterns of the space: pressed, one is used over a table that is chosen. */
export function PatternList({ wanted }: { wanted: Wanted }) {
  const queries = useQueryClient()
  const makes = useMakes()
  const [used, use] = useState<Pattern | null>(null)
  const patterns = useQuery({ queryKey: ['patterns'], queryFn: api.patterns }).data ?? []
  const words = wanted.find.toLowerCase().split(/\s+/).filter(Boolean)
  const found = patterns.filter((p) => {
    const all = [p.name, p.by, ...p.blanks.flatMap((b) => [b.label, b.column, b.meaning ?? ''])].join(' ').toLowerCase()
    return words.every((w) => all.includes(w))
  })
  if (found.length === 0 || wanted.dataset !== 0) return null
  const rename = async (p: Pattern) => {
    const name = prompt('Name of this pattern', p.name)?.trim()
    if (!name) return
    await api.renamePattern(p.id, name.slice(0, 200))
    await queries.invalidateQueries({ queryKey: ['patterns'] })
  }
  const drop = async (p: Pattern) => {
    if (!confirm(`Delete the pattern “${p.name}”? Charts that were made by it stay.`)) return
    await api.dropPattern(p.id)
    await queries.invalidateQueries({ queryKey: ['patterns'] })
  }
  return (
    <section aria-label="Patterns">
      <h2 className="mb-3 font-serif text-xl font-semibold">Patterns</h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-4">
        {found.map((p) => (
          <li key={p.id} className="group relative overflow-hidden rounded-xl border border-line bg-paper hover:border-copper">
            <button type="button" className="block w-full text-left" title="Use it over a table" onClick={() => use(p)}>
              {p.chart_id && p.step_id ? (
                <ChartPicture chart={p.chart_id} step={p.step_id} version={p.version_id ?? 0} width={256} height={110} />
              ) : (
                <span aria-hidden className="block h-8 bg-strip" />
              )}
              <span className="block border-t border-line bg-strip px-3 py-2">
                <span className="block truncate font-semibold">{p.name}</span>
                <span className="block truncate text-[13px] text-muted">{p.blanks.map((b) => b.label).join(', ')}</span>
                <span className="block truncate text-[13px] text-muted">{[p.by, moment(p.created_at)].filter(Boolean).join(' · ')}</span>
              </span>
            </button>
            {makes && (
              <span className="absolute top-2 right-2 hidden gap-1 group-focus-within:flex group-hover:flex">
                {[
                  { name: 'Rename', run: () => void rename(p) },
                  { name: 'Delete', run: () => void drop(p) },
                ].map(({ name, run }) => (
                  <button
                    key={name}
                    type="button"
                    aria-label={`${name} ${p.name}`}
                    className="rounded-md border border-line bg-strip px-2 py-0.5 text-xs hover:text-copper"
                    onClick={run}
                  >
                    {name}
                  </button>
                ))}
              </span>
            )}
          </li>
        ))}
      </ul>
      {used && <FitDialog source={{ pattern: used }} close={() => use(null)} />}
    </section>
  )
}
