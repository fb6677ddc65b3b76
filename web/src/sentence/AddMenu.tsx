import { Popover } from 'radix-ui'
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react'
import { useQuery } from '@tanstack/react-query'
import { api, type Addition, type Document, type Sayable } from '../api/client'
import type { Bench } from '../state/bench'
import { look, nearest } from './find'
import { useBench } from '../state/useBench'
import { over } from '../ui/over'

/** What can be said next, most useful first, with a search. */
export function AddMenu({
  bench,
  open,
  setOpen,
  opens,
  write,
}: {
  bench: Bench
  open: boolean
  setOpen: (open: boolean) => void
  opens: (slot: string) => void
  write: (clause: Sayable) => void
}) {
  const leads = useRef(false) // to another word, which takes the focus instead of the button
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="rounded-md border border-dashed border-muted px-2.5 py-0.5 align-middle font-sans text-sm leading-5 text-muted hover:border-copper hover:text-copper">
        + add
      </Popover.Trigger>
      <Popover.Portal container={over()}>
        <Popover.Content
          aria-label="What can be said next"
          align="start"
          sideOffset={6}
          collisionPadding={12}
          className="z-20 max-h-(--radix-popover-content-available-height) overflow-y-auto rounded-xl font-sans outline-none"
          onCloseAutoFocus={(e) => {
            if (leads.current) e.preventDefault()
            leads.current = false
          }}
        >
          <List
            bench={bench}
            close={() => setOpen(false)}
            opens={(slot) => {
              leads.current = true
              opens(slot)
            }}
            write={(clause) => {
              leads.current = true
              setOpen(false)
              write(clause)
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function List({
  bench,
  close,
  opens,
  write,
}: {
  bench: Bench
  close: () => void
  opens: (slot: string) => void
  write: (clause: Sayable) => void
}) {
  const { document } = useBench(bench, 'document')
  const id = useId()
  const list = useRef<HTMLUListElement>(null)
  const [search, setSearch] = useState('')
  const [here, setHere] = useState(0)
  const [early, setEarly] = useState(false) // Enter was pressed before the list was there
  const asked = useRef(document)
  const additions = useQuery({
    queryKey: ['additions', bench.version, asked.current],
    queryFn: ({ signal }) => api.additions(bench.version, asked.current, signal),
    staleTime: Infinity,
    gcTime: 60_000,
  })
  const sayable = useQuery({ queryKey: ['sayable', bench.version], queryFn: () => api.sayable(bench.version), staleTime: Infinity })
  const more = look(sayable.data ?? [], search)
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const found = (additions.data ?? []).filter((a) => words.every((w) => `${a.label} ${a.detail} ${a.also ?? ''}`.toLowerCase().includes(w)))
  const say = async (addition: Addition | undefined) => {
    if (!addition) return void (more[here - found.length] && write(more[here - found.length]))
    if (addition.opens) opens(addition.opens)
    else if (await bench.change(addition.document as Document)) close()
  }
  useEffect(() => void list.current?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' }), [here])
  useEffect(() => {
    if (!early || !additions.data) return
    setEarly(false)
    void say(found[here])
  }, [early, additions.data]) // eslint-disable-line react-hooks/exhaustive-deps -- what was pressed early is done when the list is there, once
  const press = (e: KeyboardEvent) => {
    if (e.key === 'ArrowDown') setHere(Math.min(here + 1, found.length + more.length - 1))
    else if (e.key === 'ArrowUp') setHere(Math.max(here - 1, 0))
    else if (e.key === 'Enter') additions.data ? void say(found[here]) : setEarly(true)
    else return
    e.preventDefault()
  }
  return (
    <div className="flex max-h-[70vh] w-[340px] flex-col rounded-xl border border-line bg-strip shadow-2xl" onKeyDown={press}>
      <div className="p-3">
        <input
          className="field"
          autoFocus
          role="combobox"
          aria-expanded
          aria-controls={id}
          aria-activedescendant={found.length + more.length > 0 ? `${id}-${here}` : undefined}
          aria-label="Find what to add"
          placeholder="What else should the chart say?"
          value={search}
          onChange={(e) => {
            setSearch(e.target.value)
            setHere(0)
          }}
        />
      </div>
      <ul ref={list} id={id} role="listbox" aria-label="What can be said next" className="min-h-0 flex-1 overflow-auto pb-2">
        {found.map((addition, i) => (
          <li
            key={addition.key}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === here}
            onClick={() => say(addition)}
            className={`cursor-pointer px-4 py-1.5 ${i === here ? 'bg-copper-wash' : 'hover:bg-wash'}`}
          >
            {addition.label} <span className="ml-1 text-[13px] text-muted">{addition.detail}</span>
            {addition.opens && <span className="sr-only"> (opens a form)</span>}
          </li>
        ))}
        {additions.isPending && <li className="px-4 py-2 text-muted">Looking for what could be said…</li>}
        {additions.error && <li className="px-4 py-2 text-copper">{additions.error.message}</li>}
        {more.length > 0 && (
          <li role="presentation" className="mt-1 border-t border-line px-4 pt-2 pb-1 text-[13px] text-muted">
            Written by hand, from an example
          </li>
        )}
        {more.map((clause, i) => (
          <li
            key={clause.name}
            id={`${id}-${found.length + i}`}
            role="option"
            aria-selected={found.length + i === here}
            onClick={() => write(clause)}
            className={`cursor-pointer px-4 py-1.5 ${found.length + i === here ? 'bg-copper-wash' : 'hover:bg-wash'}`}
          >
            {clause.name} <span className="ml-1 text-[13px] text-muted">{clause.help}</span>
            <code className="block truncate text-xs text-muted">{clause.example}</code>
          </li>
        ))}
        {additions.data && sayable.data && found.length + more.length === 0 && (
          <Unknown search={search} near={nearest(sayable.data, search)} take={setSearch} />
        )}
      </ul>
    </div>
  )
}

function Unknown({ search, near, take }: { search: string; near: string | null; take: (word: string) => void }) {
  return (
    <li className="px-4 py-2 text-muted">
      Nothing here is called “{search}”.
      {near && (
        <>
          {' '}
          Is it{' '}
          <button type="button" className="link" onClick={() => take(near)}>
            {near}
          </button>
          ?
        </>
      )}
    </li>
  )
}
