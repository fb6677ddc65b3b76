import { useQuery } from '@tanstack/react-query'
import { api, type Dataset } from '../../api/client'
import { usePeople } from '../notes/NoteText'
import { isWanted, NOTHING_WANTED, ORDERS, STATES, type Order, type State, type Wanted } from './wanted'

/** Over all that a space holds: finds it by any word, and narrows it. */
export function FindBar({ wanted, set }: { wanted: Wanted; set: (wanted: Wanted) => void }) {
  const datasets: Dataset[] = useQuery({ queryKey: ['datasets'], queryFn: api.datasets }).data ?? []
  const makers = usePeople().filter((p) => p.role !== 'reader')
  const look = 'field w-auto max-w-52 py-1.5 text-[13px]'
  return (
    <search className="flex flex-wrap items-center gap-3">
      <input
        className="field max-w-md flex-1 basis-64"
        type="search"
        aria-label="Find anything"
        placeholder="Find by any word: sentence, title, note, column, reading"
        value={wanted.find}
        onChange={(e) => set({ ...wanted, find: e.target.value })}
      />
      {datasets.length > 1 && (
        <select
          className={look}
          aria-label="Of which dataset"
          value={wanted.dataset}
          onChange={(e) => set({ ...wanted, dataset: Number(e.target.value) })}
        >
          <option value={0}>of all datasets</option>
          {datasets.map((d) => (
            <option key={d.id} value={d.id}>
              {d.name}
            </option>
          ))}
        </select>
      )}
      {makers.length > 1 && (
        <select
          className={look}
          aria-label="By whom"
          value={wanted.maker}
          onChange={(e) => set({ ...wanted, maker: Number(e.target.value) })}
        >
          <option value={0}>by anybody</option>
          {makers.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      )}
      <select
        className={look}
        aria-label="In which order"
        value={wanted.order}
        onChange={(e) => set({ ...wanted, order: e.target.value as Order })}
      >
        {ORDERS.map(({ order, name }) => (
          <option key={order} value={order}>
            {name}
          </option>
        ))}
      </select>
      <select
        className={look}
        aria-label="Which charts"
        value={wanted.state}
        onChange={(e) => set({ ...wanted, state: e.target.value as State })}
      >
        {STATES.map(({ state, name }) => (
          <option key={state} value={state}>
            {name}
          </option>
        ))}
      </select>
      {isWanted(wanted) && (
        <button type="button" className="link text-[13px]" onClick={() => set({ ...NOTHING_WANTED, order: wanted.order })}>
          all of it
        </button>
      )}
    </search>
  )
}
