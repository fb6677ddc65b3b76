import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type AuditWanted, type Me, type Refusal } from '../../api/client'
import { Shell } from '../../ui/Shell'
import { Trouble, Waiting } from '../../ui/Words'

const moment = (at: string) =>
  new Date(at).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  })

/** How many entries the server gives at once. */
const PAGE = 100

/** A day that was chosen, as the moment at which it begins here; the day after it, where it is the last. */
const startOf = (day: string, after = 0) => {
  const [year, month, date] = day.split('-').map(Number)
  return new Date(year, month - 1, date + after).toISOString()
}

/** Who did what in the space, for its owners. */
export function AuditPage({ me }: { me: Me }) {
  const [who, setWho] = useState('')
  const [about, setAbout] = useState('')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const wanted: AuditWanted = {
    ...(who && { who }),
    ...(about && { about }),
    ...(from && { from: startOf(from) }),
    ...(to && { to: startOf(to, 1) }),
  }
  const entries = useInfiniteQuery({
    queryKey: ['audit', wanted],
    queryFn: ({ pageParam }) => api.audit(wanted, pageParam),
    initialPageParam: 0,
    getNextPageParam: ({ entries }) => (entries.length < PAGE ? undefined : entries.at(-1)!.id),
    placeholderData: (before) => before,
    staleTime: 0,
  })
  const list = entries.data?.pages.flatMap((page) => page.entries) ?? []
  const { abouts = [], days = 0 } = entries.data?.pages[0] ?? {}
  return (
    <Shell me={me} view="What was done" headed>
      <main className="flex-1 overflow-auto px-6 py-6">
        <div className="mx-auto max-w-5xl">
          <h1 className="mb-1 font-serif text-xl font-semibold">What was done</h1>
          <p className="mb-4 text-muted">
            Who did what in {me.space}, and from where. Entries cannot be changed; they are kept {days ? `${days} days` : 'for ever'}.
          </p>
          <form aria-label="Which entries" className="mb-4 flex flex-wrap items-end gap-4" onSubmit={(e) => e.preventDefault()}>
            <label className="flex flex-col gap-1 text-[13px]">
              Who
              <input className="field w-48" type="search" value={who} onChange={(e) => setWho(e.target.value)} />
            </label>
            <label className="flex flex-col gap-1 text-[13px]">
              About
              <select className="field w-52" value={about} onChange={(e) => setAbout(e.target.value)}>
                <option value="">anything</option>
                {abouts.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
            <label className="flex flex-col gap-1 text-[13px]">
              From
              <input className="field w-40" type="date" value={from} max={to} onChange={(e) => setFrom(e.target.value)} />
            </label>
            <label className="flex flex-col gap-1 text-[13px]">
              To
              <input className="field w-40" type="date" value={to} min={from} onChange={(e) => setTo(e.target.value)} />
            </label>
            <a className="button-plain" href={api.auditFile(wanted)} download>
              Take these as CSV
            </a>
          </form>
          {entries.isSuccess && list.length === 0 && <p role="status">Nothing of this kind was done.</p>}
          {entries.error && <Trouble message={entries.error.message} advice={(entries.error as Refusal).advice} />}
          {entries.isPending && <Waiting what="Looking" />}
          {list.length > 0 && (
            <div
              role="region"
              aria-label="Entries"
              tabIndex={0}
              className="relative overflow-x-auto rounded-xl border border-line bg-paper"
            >
              <table className="w-full text-left">
                <thead className="bg-strip text-[13px] text-muted">
                  <tr>
                    {['When', 'Who', 'Did', 'From'].map((head) => (
                      <th key={head} scope="col" className="px-4 py-2 font-normal">
                        {head}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {list.map((entry) => (
                    <tr key={entry.id} className="border-t border-line align-top">
                      <td className="px-4 py-2 whitespace-nowrap text-muted tabular-nums">{moment(entry.at)}</td>
                      <td className="px-4 py-2 wrap-anywhere">{entry.who}</td>
                      <td className="px-4 py-2 wrap-anywhere">
                        {entry.did} {entry.what}
                      </td>
                      <td className="px-4 py-2 whitespace-nowrap text-muted tabular-nums">{entry.address || 'the server itself'}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          {entries.hasNextPage && (
            <button
              type="button"
              className="button-plain mt-4"
              disabled={entries.isFetchingNextPage}
              onClick={() => void entries.fetchNextPage()}
            >
              Show earlier ones
            </button>
          )}
        </div>
      </main>
    </Shell>
  )
}
