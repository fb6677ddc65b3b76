import { Popover } from 'radix-ui'
import { useState, type FormEvent, type ReactNode } from 'react'
import { useQuery } from '@tanstack/react-query'
import { api, type Part } from '../../api/client'
import { counted } from '../../scale/format'
import { ClauseField } from './ClauseField'
import type { Clause } from './clauses'
import type { Preparation } from './usePreparation'
import { over } from '../../ui/over'

const ROLES = {
  column: 'border-b-2 border-copper font-semibold text-copper',
  way: 'border-b-2 border-dotted border-verdigris font-semibold text-verdigris',
}

/** The preparation as a sentence: each clause can be pressed, and says what it did. */
export function PreparationSentence({
  preparation,
  begun,
  setBegun,
}: {
  preparation: Preparation
  begun: string | null
  setBegun: (text: string | null) => void
}) {
  const { clauses, change, result, dataset, base, original } = preparation
  const [open, setOpen] = useState<number | null>(null)
  return (
    <p className="min-w-0 flex-1 font-serif text-[21px] leading-[36px]">
      {base.rows > 0 && (
        <>
          Take <span className="font-semibold">{dataset.file_name || dataset.name}</span>{' '}
          <Badge>
            {counted(base.rows, 'row')}, {counted((original?.columns ?? []).length, 'column')}
          </Badge>
          .{' '}
        </>
      )}
      {clauses.map((clause, i) => (
        <span key={i}>
          <Popover.Root open={open === i} onOpenChange={(yes) => setOpen(yes ? i : null)}>
            <Popover.Trigger
              aria-label={`Clause: ${clause.text}`}
              className={`rounded text-left hover:bg-copper-wash ${clause.off ? 'text-muted line-through' : ''} ${preparation.mistake?.clause === i ? 'bg-copper-wash' : ''}`}
            >
              {(result?.clauses?.[i]?.text === clause.text && result.spoken?.[i] ? result.spoken[i] : [{ text: clause.text } as Part]).map(
                (part, k) => (
                  <span key={k} className={clause.off || !part.role ? '' : ROLES[part.role]}>
                    {part.text}
                  </span>
                ),
              )}
            </Popover.Trigger>
            <Floating>
              <ClauseForm
                clause={clause}
                preparation={preparation}
                before={clauses.slice(0, i)}
                keep={(next) => change(clauses.map((c, j) => (j === i ? next : c)))}
                remove={() => {
                  change(clauses.filter((_, j) => j !== i))
                  setOpen(null)
                }}
                move={(by) => {
                  const moved = [...clauses]
                  const [taken] = moved.splice(i, 1)
                  moved.splice(Math.max(0, Math.min(moved.length, i + by)), 0, taken)
                  change(moved)
                  setOpen(null)
                }}
                close={() => setOpen(null)}
              />
            </Floating>
          </Popover.Root>{' '}
          {result?.effects?.[i] && !clause.off && (
            <Badge loud={result.effects[i].after < result.effects[i].before}>{result.effects[i].words}</Badge>
          )}
          .{' '}
        </span>
      ))}
      <Popover.Root open={begun !== null} onOpenChange={(yes) => setBegun(yes ? '' : null)}>
        <Popover.Trigger className="rounded-md border border-dashed border-muted px-2.5 py-0.5 align-middle font-sans text-sm leading-5 text-muted hover:border-copper hover:text-copper">
          + add
        </Popover.Trigger>
        <Floating>
          <AddClause
            begun={begun ?? ''}
            preparation={preparation}
            add={(text) => {
              change([...clauses, { text }])
              setBegun(null)
            }}
          />
        </Floating>
      </Popover.Root>
    </p>
  )
}

function Floating({ children }: { children: ReactNode }) {
  return (
    <Popover.Portal container={over()}>
      <Popover.Content
        aria-label="A clause of the preparation"
        align="start"
        sideOffset={6}
        collisionPadding={12}
        className="z-20 font-sans outline-none"
      >
        {children}
      </Popover.Content>
    </Popover.Portal>
  )
}

function Badge({ children, loud }: { children: ReactNode; loud?: boolean }) {
  return (
    <span
      className={`rounded-full px-2.5 py-0.5 align-middle font-sans text-xs font-medium text-ink ${loud ? 'bg-[#f6d9c4] dark:bg-[#6b3a17]' : 'bg-verdigris-wash'}`}
    >
      {children}
    </span>
  )
}

interface ClauseFormProps {
  clause: Clause
  preparation: Preparation
  before: Clause[]
  keep: (clause: Clause) => void
  remove: () => void
  move: (by: number) => void
  close: () => void
}

function ClauseForm({ clause, preparation, before, keep, remove, move, close }: ClauseFormProps) {
  const [text, setText] = useState(clause.text)
  const say = (e?: FormEvent) => {
    e?.preventDefault()
    keep({ ...clause, text: text.trim() })
    close()
  }
  return (
    <form onSubmit={say} className="flex w-[480px] flex-col gap-3 rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <h3 className="font-serif text-base font-semibold">Clause</h3>
      <ClauseField label="Clause" text={text} setText={setText} say={say} version={preparation.base.id} before={before} />
      <div className="flex flex-wrap gap-2 text-[13px]">
        <button
          type="button"
          className="button-plain"
          onClick={() => {
            keep({ text: text.trim(), off: !clause.off })
            close()
          }}
        >
          {clause.off ? 'Switch on' : 'Switch off'}
        </button>
        <button type="button" className="button-plain" onClick={() => move(-1)}>
          Earlier
        </button>
        <button type="button" className="button-plain" onClick={() => move(1)}>
          Later
        </button>
        <button type="button" className="button-plain" onClick={remove}>
          Take out
        </button>
        <button className="button-bright ml-auto">Say it</button>
      </div>
    </form>
  )
}

function AddClause({ begun, preparation, add }: { begun: string; preparation: Preparation; add: (text: string) => void }) {
  const [text, setText] = useState(begun)
  const [search, setSearch] = useState('')
  const say = (e?: FormEvent) => {
    e?.preventDefault()
    if (text.trim()) add(text.trim())
  }
  const kinds = useQuery({ queryKey: ['language'], queryFn: api.language, staleTime: Infinity }).data?.clauses ?? []
  const chosen = kinds.filter((k) => text.startsWith(k.begins.trimEnd())).sort((a, b) => b.begins.length - a.begins.length)[0]
  const there = preparation.base.rows > 0 || preparation.clauses.length > 0
  const found = kinds.filter(
    (k) =>
      (k.name !== 'make' || !there) && k.name !== 'take' && `${k.name} ${k.help} ${k.example}`.toLowerCase().includes(search.toLowerCase()),
  )
  if (text !== '' || chosen)
    return (
      <form
        onSubmit={say}
        className="flex max-h-[76vh] w-[480px] flex-col gap-3 overflow-auto rounded-xl border border-line bg-strip p-4 shadow-2xl"
      >
        <ClauseField
          label="New clause"
          text={text}
          setText={setText}
          say={say}
          version={preparation.base.id}
          before={preparation.clauses}
        />
        <div className="flex items-center gap-3">
          <p className="min-w-0 flex-1 text-[13px] text-muted">{chosen && `As in: ${chosen.example}`}</p>
          <button type="button" className="button-plain shrink-0" onClick={() => setText('')}>
            Another
          </button>
          <button className="button-bright shrink-0" disabled={!text.trim()}>
            Say it
          </button>
        </div>
      </form>
    )
  return (
    <div className="flex max-h-[70vh] w-[480px] flex-col gap-2 overflow-hidden rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <input
        autoFocus
        className="field"
        aria-label="Find a clause"
        placeholder="What should be done to the table?"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return
          e.preventDefault()
          setText(found.length > 0 ? found[0].begins : search)
        }}
      />
      <ul aria-label="What can be said next" className="min-h-0 overflow-auto">
        {found.map((k) => (
          <li key={k.name}>
            <button
              type="button"
              className="block w-full truncate rounded-md px-2 py-1 text-left hover:bg-copper-wash"
              onClick={() => setText(k.begins)}
            >
              {k.name} <span className="text-[13px] text-muted">{k.help}</span>
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="px-2 py-1 text-muted">No clause is called so; Enter takes it as it stands.</li>}
      </ul>
    </div>
  )
}
