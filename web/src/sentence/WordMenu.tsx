import { useQuery } from '@tanstack/react-query'
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react'
import { api, type Choice, type ColumnProfile, type Document } from '../api/client'
import type { Bench } from '../state/bench'
import { useBench } from '../state/useBench'
import { ColumnPicture } from '../ui/ColumnPicture'
import { KindSign } from '../ui/KindSign'
import { Trouble } from '../ui/Words'
import { columnDetail, columnSaid } from './detail'
import { SpaceStyle } from './SpaceStyle'

/**
 * A word, opened: a search over what could be said instead. Arrow keys try each
 * choice on the chart at once, Enter keeps it, Escape leaves all as it was.
 */
export function WordMenu({ slot, bench, columns, close }: { slot: string; bench: Bench; columns: ColumnProfile[]; close: () => void }) {
  const { refusal, document } = useBench(bench, 'refusal', 'document')
  const asked = useRef(document) // what the choices are about, whatever is chosen meanwhile
  const opened = useQuery({
    queryKey: ['choices', bench.version, asked.current, slot],
    queryFn: ({ signal }) => api.choices(bench.version, asked.current, slot, signal),
    staleTime: Infinity,
    gcTime: 60_000,
  })
  const menu = opened.data
  const [search, setSearch] = useState('')
  const [here, setHere] = useState(-1)
  const [early, setEarly] = useState({ steps: 0, keep: false }) // keys that were pressed before the choices were there
  const list = useRef<HTMLUListElement>(null)
  const input = useRef<HTMLInputElement>(null)
  const id = useId()
  const shares = useQuery({
    queryKey: ['goes-with', bench.version, menu?.measure],
    queryFn: () => api.goesWith(bench.version, menu!.measure!),
    enabled: Boolean(menu?.measure),
    staleTime: Infinity,
  })
  const shareOf = new Map(shares.data?.map((c) => [c.column, c.share]))
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const choices = menu?.choices ?? []
  const found = choices.filter((c) => words.every((w) => `${c.label} ${c.detail ?? ''} ${c.also ?? ''}`.toLowerCase().includes(w)))
  const withColumns = Boolean(menu?.measure)
  useEffect(() => void input.current?.focus(), [])
  useEffect(() => void list.current?.children[here]?.scrollIntoView({ block: 'nearest' }), [here])
  useEffect(() => {
    if (!menu || (early.steps === 0 && !early.keep)) return
    setEarly({ steps: 0, keep: false })
    const at = early.steps < 0 ? found.length + early.steps : Math.max(early.steps - 1, 0)
    if (early.keep) void keep(found[at])
    else go(at)
  }, [early, menu]) // eslint-disable-line react-hooks/exhaustive-deps -- what was pressed early is done when the menu is there, once

  const go = (to: number) => {
    const next = found.length === 0 ? -1 : (to + found.length) % found.length
    setHere(next)
    const choice = found[next]
    if (choice && !choice.barred) void bench.preview(choice.document as Document)
  }
  const keep = async (choice: Choice | undefined) => {
    if (!choice || choice.barred) return
    if (await bench.change(choice.document as Document)) close()
  }
  const press = (e: KeyboardEvent) => {
    const arrow = { ArrowDown: 1, ArrowUp: -1 }[e.key]
    if (arrow && !menu) setEarly({ ...early, steps: early.steps + arrow })
    else if (e.key === 'ArrowDown') go(here + 1)
    else if (e.key === 'ArrowUp') go(here < 0 ? found.length - 1 : here - 1)
    else if (e.key === 'Enter') menu ? void keep(found[here < 0 ? 0 : here]) : setEarly({ ...early, keep: true })
    else return
    e.preventDefault()
  }
  return (
    <div className="flex max-h-[min(560px,78vh)] w-[392px] flex-col rounded-xl border border-line bg-strip shadow-2xl" onKeyDown={press}>
      <div className="flex items-baseline justify-between px-4 pt-3.5 pb-2">
        <h3 className="font-serif text-base font-semibold">{menu?.title ?? '…'}</h3>
        {menu?.without && (
          <button
            type="button"
            className="text-[13px] text-copper hover:underline"
            onClick={async () => (await bench.change(menu.without as Document)) && close()}
          >
            take out of the sentence
          </button>
        )}
      </div>
      <div className="px-4 pb-2.5">
        <input
          ref={input}
          className="field"
          role="combobox"
          aria-expanded
          aria-controls={id}
          aria-activedescendant={here >= 0 ? `${id}-${here}` : undefined}
          aria-label={menu?.find ?? 'Find'}
          placeholder={menu?.find ?? ''}
          value={search}
          onChange={(e) => {
            setSearch(e.target.value)
            setHere(-1)
          }}
        />
      </div>
      {withColumns && (
        <div className="grid grid-cols-[1fr_60px_76px] gap-3 px-4 pb-1 text-xs whitespace-nowrap text-muted" aria-hidden>
          <span />
          <span>shape of it</span>
          <span>goes with it</span>
        </div>
      )}
      <ul ref={list} id={id} role="listbox" aria-label={menu?.title ?? 'Choices'} className="min-h-0 flex-1 overflow-auto">
        {found.map((choice, i) => (
          <li
            key={choice.key}
            id={`${id}-${i}`}
            role="option"
            aria-label={saidOf(choice, columns)}
            aria-selected={i === here}
            aria-disabled={Boolean(choice.barred)}
            onClick={() => void keep(choice)}
            className={`grid cursor-pointer grid-cols-[1fr_auto] items-center gap-3 px-4 py-1.5 ${i === here ? 'bg-copper-wash' : 'hover:bg-wash'} ${choice.barred ? 'cursor-default opacity-55' : ''}`}
          >
            <ChoiceLine
              choice={choice}
              column={columns.find((c) => c.name === choice.column)}
              measured={withColumns}
              share={shareOf.get(choice.column ?? '')}
            />
          </li>
        ))}
        {opened.isPending && <li className="px-4 py-3 text-muted">Looking for what could be said…</li>}
        {opened.error && <li className="px-4 py-3 text-copper">{opened.error.message}</li>}
        {menu && found.length === 0 && <li className="px-4 py-3 text-muted">Nothing here is called “{search}”.</li>}
      </ul>
      {refusal && (
        <div className="px-3 py-2 text-[13px]">
          <Trouble message={refusal.message} advice={refusal.advice} />
        </div>
      )}
      <SpaceStyle slot={slot} bench={bench} close={close} />
      <p className="flex justify-between border-t border-line px-4 py-2.5 text-xs whitespace-nowrap text-muted">
        <span>
          <Key>↑</Key> <Key>↓</Key> try it on the chart
        </span>
        <span>
          <Key>↵</Key> keep
        </span>
        <span>
          <Key>esc</Key> leave as it was
        </span>
      </p>
    </div>
  )
}

/** A choice of a column as it is read out; others are read as they stand. */
function saidOf(choice: Choice, columns: ColumnProfile[]): string | undefined {
  const column = columns.find((c) => c.name === choice.column)
  if (!column) return undefined
  return [
    choice.barred || choice.detail ? `${choice.label}, ${choice.barred || choice.detail}` : columnSaid(column, choice.label),
    choice.current ? 'said now' : '',
  ]
    .filter(Boolean)
    .join(', ')
}

interface LineProps {
  choice: Choice
  column: ColumnProfile | undefined
  measured: boolean // whether each line shows how its column is spread and what it goes with
  share: number | undefined
}

/** What one choice says of itself. */
function ChoiceLine({ choice, column, measured, share }: LineProps) {
  return (
    <>
      <span className="flex min-w-0 items-center gap-2.5">
        {column && <KindSign kind={column.kind} />}
        <span className={`truncate ${choice.current ? 'font-semibold' : ''}`}>
          {choice.label}{' '}
          <span className="ml-1 text-[13px] font-normal text-muted">
            {choice.barred || choice.detail || (column && columnDetail(column))}
          </span>
        </span>
      </span>
      {measured && column && (
        <span className="grid grid-cols-[60px_76px] items-center gap-3">
          <ColumnPicture column={column} />
          <ShareBar share={share} />
        </span>
      )}
      {choice.current && !measured && <span className="text-xs text-verdigris">said now</span>}
    </>
  )
}

const Key = ({ children }: { children: string }) => (
  <kbd className="rounded border border-line bg-paper px-1.5 text-xs text-ink">{children}</kbd>
)

/** How much of the spread of the other column this one accounts for. */
function ShareBar({ share }: { share: number | undefined }) {
  if (share === undefined || share < 0) return <span className="h-1.5" />
  return (
    <span
      className="block h-1.5 overflow-hidden rounded-full bg-line forced-color-adjust-none"
      title={`accounts for ${Math.round(100 * share)} % of the spread`}
    >
      <span className="block h-full rounded-full bg-copper" style={{ width: `${100 * share}%` }} />
    </span>
  )
}
