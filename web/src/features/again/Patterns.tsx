import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, Refusal, type Pattern } from '../../api/client'
import type { Bench } from '../../state/bench'
import { Dialog } from '../../ui/Dialog'
import { announce } from '../../ui/title'
import { Trouble, Waiting } from '../../ui/Words'

/** Asks for a name under which something is kept. */
export function Naming({
  title,
  says,
  first,
  keep,
  close,
}: {
  title: string
  says: string
  first: string
  keep: (name: string) => Promise<unknown>
  close: () => void
}) {
  const [name, setName] = useState(first)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const send = async () => {
    setTrouble(null)
    try {
      await keep(name)
      announce(`Kept as ${name}`)
      close()
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  return (
    <Dialog title={title} onClose={close}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          void send()
        }}
      >
        <p>{says}</p>
        <label className="flex flex-col gap-1">
          Name
          <input className="field" autoFocus maxLength={200} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        <div className="flex justify-end">
          <button className="button-bright" disabled={!name.trim()}>
            Keep
          </button>
        </div>
      </form>
    </Dialog>
  )
}

/** Keeps the sentence of a chart as a pattern. */
export function KeepPattern({ bench, close }: { bench: Bench; close: () => void }) {
  const queries = useQueryClient()
  const { chart, document } = bench.get()
  const keep = async (name: string) => {
    await bench.settled()
    const kept = await bench.keptChart()
    if (!kept) throw bench.get().unsaved ?? new Refusal(0, 'the chart could not be kept', 'try again')
    await api.addPattern(name, kept.id, bench.get().at)
    await queries.invalidateQueries({ queryKey: ['patterns'] })
  }
  return (
    <Naming
      title="Keep as a pattern"
      says="What the sentence says stays; its columns become blanks, for which those of another table are proposed by name, unit, kind and meaning. Titles, notes and rows that were chosen by hand are left out."
      first={(chart?.name ?? document.manner?.title ?? '').slice(0, 200)}
      keep={keep}
      close={close}
    />
  )
}

/** Chooses one of the patterns of the space. */
export function ChoosePattern({ choose, close }: { choose: (pattern: Pattern) => void; close: () => void }) {
  const patterns = useQuery({ queryKey: ['patterns'], queryFn: api.patterns })
  const [find, setFind] = useState('')
  const words = find.toLowerCase().split(/\s+/).filter(Boolean)
  const found = (patterns.data ?? []).filter((p) => {
    const all = [p.name, p.by, ...p.blanks.map((b) => b.label)].join(' ').toLowerCase()
    return words.every((w) => all.includes(w))
  })
  return (
    <Dialog title="Use a pattern here" onClose={close}>
      {patterns.error && <Trouble message={patterns.error.message} />}
      {patterns.isPending && <Waiting what="Looking for patterns" />}
      {patterns.data?.length === 0 && (
        <p className="text-muted">The space keeps no patterns yet. Open a chart that you want again, and keep it as one.</p>
      )}
      {(patterns.data?.length ?? 0) > 5 && (
        <input
          type="search"
          className="field mb-3 max-w-80"
          aria-label="Find a pattern"
          placeholder="Find a pattern"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
      )}
      <ul className="flex flex-col">
        {found.map((p) => (
          <li key={p.id}>
            <button
              type="button"
              className="flex w-full items-baseline gap-3 rounded-md px-3 py-2 text-left hover:bg-copper-wash"
              onClick={() => choose(p)}
            >
              <span className="font-semibold">{p.name}</span>
              <span className="min-w-0 flex-1 truncate text-[13px] text-muted">{p.blanks.map((b) => b.label).join(', ')}</span>
              <span className="text-[13px] text-muted">{p.by}</span>
            </button>
          </li>
        ))}
      </ul>
    </Dialog>
  )
}
