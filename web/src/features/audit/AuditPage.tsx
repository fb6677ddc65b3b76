import { useInfiniteQuery } from '@tanstack/react-query'
import { api, type Me, type Refusal } from '../../api/client'
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

/** Who did what in the space, for its owners. */
export function AuditPage({ me }: { me: Me }) {
  const entries = useInfiniteQuery({
    queryKey: ['audit'],
    queryFn: ({ pageParam }) => api.audit(pageParam),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.length < PAGE ? undefined : page.at(-1)!.id),
    staleTime: 0,
  })
  const list = entries.data?.pages.flat() ?? []
  return (
    <Shell me={me} view="What was done" headed>
      <main className="flex-1 overflow-auto px-6 py-6">
        <div className="mx-auto max-w-5xl">
          <h1 className="mb-1 font-serif text-xl font-semibold">What was done</h1>
          <p className="mb-4 text-muted">
            Who signed in to {me.space}, shared, withdrew and deleted, and from where. Entries cannot be changed.
          </p>
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
