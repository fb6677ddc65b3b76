import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type KeptComparison } from '../../api/client'
import { useMakes } from '../../ui/may'
import { moment } from '../../ui/moment'
import { ChartPicture } from '../chart/ChartPicture'
import { compareAddress } from '../compare/sides'
import type { Wanted } from './wanted'

/** Comparisons that are kept, by their two pictures. */
export function ComparisonList({ wanted }: { wanted: Wanted }) {
  const queries = useQueryClient()
  const makes = useMakes()
  const kept = useQuery({ queryKey: ['comparisons'], queryFn: api.comparisons }).data ?? []
  const words = wanted.find.toLowerCase().split(/\s+/).filter(Boolean)
  const found = kept.filter(
    (c) => words.every((w) => `${c.name} ${c.by}`.toLowerCase().includes(w)) && (!wanted.dataset || c.dataset_id === wanted.dataset),
  )
  if (found.length === 0) return null
  const drop = async (c: KeptComparison) => {
    if (!confirm(`Forget the comparison “${c.name}”? Its charts stay.`)) return
    await api.dropComparison(c.id)
    await queries.invalidateQueries({ queryKey: ['comparisons'] })
  }
  return (
    <section aria-label="Comparisons">
      <h2 className="mb-3 font-serif text-xl font-semibold">Comparisons</h2>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-4">
        {found.map((c) => (
          <li key={c.id} className="group relative overflow-hidden rounded-xl border border-line bg-paper hover:border-copper">
            <Link className="block" to={compareAddress(c.dataset_id, c.sides)}>
              <span className="grid grid-cols-2 gap-px bg-line">
                <ChartPicture chart={c.sides.a} step={c.sides.a_step} version={c.sides.a_version} width={128} height={96} />
                <ChartPicture chart={c.sides.b} step={c.sides.b_step} version={c.sides.b_version} width={128} height={96} />
              </span>
              <span className="block border-t border-line bg-strip px-3 py-2">
                <span className="block truncate font-semibold">{c.name}</span>
                <span className="block truncate text-[13px] text-muted">{[c.by, moment(c.created_at)].filter(Boolean).join(' · ')}</span>
              </span>
            </Link>
            {makes && (
              <button
                type="button"
                aria-label={`Forget ${c.name}`}
                className="absolute top-2 right-2 hidden rounded-md border border-line bg-strip px-2 py-0.5 text-xs group-focus-within:block group-hover:block hover:text-copper"
                onClick={() => void drop(c)}
              >
                Forget
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
