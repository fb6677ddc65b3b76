import { Popover } from 'radix-ui'
import { useState, type FormEvent } from 'react'
import type { Prepared } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { Trouble } from '../../ui/Words'
import type { Clause } from './clauses'

/** What can be said next, with an example to change. */
const KINDS: [string, string, string][] = [
  ['keep rows where …', 'keep ', 'a condition: frames > 6 and district in (‘Tarn’, ‘Brindle’)'],
  ['work out a column', 'work out ', 'a name = an expression: income = honey_kg * price'],
  ['leave out rows missing …', 'leave out missing ', 'columns, or none for any of them'],
  ['read a column as …', 'read ', 'fed as yes/no, or honey_kg in ‘kg’ meaning ‘…’ called ‘…’'],
  ['for each group, sum up', 'for each ', 'district: mean_yield = mean(honey_kg), hives = count()'],
  ['order groups by …', 'order ', 'district by mean(honey_kg) descending'],
  ['keep the top groups', 'keep top ', '12 item by sum(income), rest as ‘Other’'],
  ['join names', 'join names ', 'district, hive_type into plot_group'],
  ['stack columns', 'stack ', 'hive_1 to hive_6 into hive, weight_kg'],
  ['sort by …', 'sort by ', 'income descending'],
  ['drop duplicates', 'drop duplicates', 'of some columns, or of whole rows'],
]

interface Props {
  fileName: string
  rows: number
  columnCount: number
  clauses: Clause[]
  result: Prepared | undefined
  change: (clauses: Clause[]) => void
}

/** The preparation as a sentence: each clause can be pressed, and says what it did. */
export function PreparationSentence({ fileName, rows, columnCount, clauses, result, change }: Props) {
  const [open, setOpen] = useState<number | 'add' | null>(null)
  return (
    <p className="min-w-0 flex-1 font-serif text-[21px] leading-[36px]">
      Take <span className="font-semibold">{fileName}</span>{' '}
      <Badge>
        {formatNumber(rows, 0)} rows, {columnCount} columns
      </Badge>
      .{' '}
      {clauses.map((clause, i) => (
        <span key={i}>
          <Popover.Root open={open === i} onOpenChange={(yes) => setOpen(yes ? i : null)}>
            <Popover.Trigger
              className={`border-b-2 leading-[27px] hover:bg-copper-wash ${clause.off ? 'border-line text-muted line-through' : 'border-copper text-copper'} ${result?.mistake?.clause === i ? 'bg-copper-wash decoration-wavy' : ''}`}
            >
              {clause.text.charAt(0).toUpperCase() + clause.text.slice(1)}
            </Popover.Trigger>
            <Popover.Portal>
              <Popover.Content align="start" sideOffset={6} collisionPadding={12} className="z-20 font-sans outline-none">
                <ClauseForm
                  clause={clause}
                  mistake={result?.mistake?.clause === i ? result.mistake : undefined}
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
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>{' '}
          {result?.effects?.[i] && !clause.off && <Badge loud={result.effects[i].after < result.effects[i].before}>{result.effects[i].words}</Badge>}.{' '}
        </span>
      ))}
      <Popover.Root open={open === 'add'} onOpenChange={(yes) => setOpen(yes ? 'add' : null)}>
        <Popover.Trigger className="rounded-md border border-dashed border-muted px-2.5 py-0.5 align-middle font-sans text-sm leading-5 text-muted hover:border-copper hover:text-copper">+ add</Popover.Trigger>
        <Popover.Portal>
          <Popover.Content align="start" sideOffset={6} collisionPadding={12} className="z-20 font-sans outline-none">
            <AddClause
              add={(text) => {
                change([...clauses, { text }])
                setOpen(null)
              }}
            />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </p>
  )
}

function Badge({ children, loud }: { children: React.ReactNode; loud?: boolean }) {
  return <span className={`rounded-full px-2.5 py-0.5 align-middle font-sans text-xs font-medium text-ink ${loud ? 'bg-[#f6d9c4] dark:bg-[#6b3a17]' : 'bg-verdigris-wash'}`}>{children}</span>
}

interface ClauseFormProps {
  clause: Clause
  mistake?: { message: string; advice: string }
  keep: (clause: Clause) => void
  remove: () => void
  move: (by: number) => void
  close: () => void
}

function ClauseForm({ clause, mistake, keep, remove, move, close }: ClauseFormProps) {
  const [text, setText] = useState(clause.text)
  const submit = (e: FormEvent) => {
    e.preventDefault()
    keep({ ...clause, text: text.trim() })
    close()
  }
  return (
    <form onSubmit={submit} className="flex w-[460px] flex-col gap-3 rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <h3 className="font-serif text-base font-semibold">Clause</h3>
        <textarea aria-label="Clause" autoFocus rows={2} className="field font-mono text-[13px]" spellCheck={false} value={text} onChange={(e) => setText(e.target.value)} onKeyDown={(e) => e.key === 'Enter' && submit(e)} />
      {mistake && <Trouble message={mistake.message} advice={mistake.advice} />}
      <div className="flex flex-wrap gap-2 text-[13px]">
        <button type="button" className="button-plain" onClick={() => keep({ ...clause, off: clause.off ? undefined : true })}>
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

function AddClause({ add }: { add: (text: string) => void }) {
  const [text, setText] = useState('')
  const submit = (e: FormEvent) => {
    e.preventDefault()
    if (text.trim()) add(text.trim())
  }
  const chosen = KINDS.findLast(([, begin]) => text.startsWith(begin))
  return (
    <form onSubmit={submit} className="flex max-h-[70vh] w-[460px] flex-col gap-3 overflow-auto rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <div className="flex gap-2">
        <input autoFocus className="field font-mono text-[13px]" aria-label="New clause" placeholder="What should be done to the table?" spellCheck={false} value={text} onChange={(e) => setText(e.target.value)} />
        <button className="button-bright shrink-0" disabled={!text.trim()}>
          Say it
        </button>
      </div>
      {chosen && <p className="text-[13px] text-muted">Goes on with: {chosen[2]}</p>}
      <ul aria-label="What can be said next">
        {KINDS.filter(([words, begin]) => !text || chosen || `${words} ${begin}`.includes(text.toLowerCase())).map(([words, begin, help]) => (
          <li key={words}>
            <button type="button" className="block w-full rounded-md px-2 py-1 text-left hover:bg-copper-wash" onClick={() => setText(begin)}>
              {words} <span className="text-[13px] text-muted">{help}</span>
            </button>
          </li>
        ))}
      </ul>
    </form>
  )
}
