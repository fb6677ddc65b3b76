import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { api, Refusal, type ColumnProfile, type Dataset, type ImportedMeanings, type Meaning } from '../../api/client'
import { ColourField } from '../../ui/ColourField'
import { isGroups } from '../../ui/kinds'
import { KindSign } from '../../ui/KindSign'
import { useMakes } from '../../ui/may'
import { Trouble, Waiting } from '../../ui/Words'
import type { SubjectHand } from '../together/useSubject'

/** The data dictionary: what people call the columns, their units, what they and their values mean. Each field is kept when it is left. */
export function Meanings({
  dataset,
  columns,
  focus,
  find,
  together,
}: {
  dataset: Dataset
  columns: ColumnProfile[]
  focus: string
  find: string
  /** Others who have the dataset open: a column is one writer's at a time. */
  together: SubjectHand
}) {
  const queries = useQueryClient()
  const meanings = useQuery({ queryKey: ['meanings', dataset.id], queryFn: () => api.meanings(dataset.id) })
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [imported, setImported] = useState<ImportedMeanings | null>(null)
  const picker = useRef<HTMLInputElement>(null)
  const makes = useMakes()
  const before = useRef<Promise<unknown>>(Promise.resolve())
  // One after the other: what is said next must not overtake what was said first.
  const attempt = async (act: () => Promise<unknown>) => {
    setTrouble(null)
    try {
      await (before.current = before.current.catch(() => {}).then(act))
      await Promise.all(
        ['meanings', 'dataset', 'prepared', 'datasets', 'summary'].map((key) => queries.invalidateQueries({ queryKey: [key] })),
      )
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  if (meanings.error) return <Trouble message={meanings.error.message} />
  if (!meanings.data) return <Waiting what="Looking up what the columns mean" />
  const keep = (meaning: Meaning) => {
    // What is said of another field before this one is kept builds on it.
    queries.setQueryData<Meaning[]>(['meanings', dataset.id], (now) =>
      now?.map((m) => (m.column === meaning.column ? { ...m, ...meaning } : m)),
    )
    return attempt(() => api.setMeaning(dataset.id, meaning))
  }
  const said = new Map(meanings.data.map((m) => [m.column, m]))
  const wanted = find.trim().toLowerCase()
  return (
    <div className="min-h-0 flex-1 overflow-auto rounded-xl border border-line bg-paper" role="region" aria-label="Meanings" tabIndex={0}>
      <fieldset disabled={!makes} className="contents">
        <About dataset={dataset} attempt={attempt} />
        <div className="flex items-center gap-3 border-b border-line bg-strip px-3 py-2 text-[13px]">
          <p className="min-w-0 flex-1 text-muted">
            What is said here stands on axes, in keys and on cards of every chart. Formulas keep the names and values of the file.
          </p>
          {makes && (
            <button type="button" className="button-plain" onClick={() => picker.current?.click()}>
              Take meanings from a file…
            </button>
          )}
          <input
            ref={picker}
            type="file"
            className="hidden"
            aria-label="File with meanings"
            accept=".csv,.tsv,.txt,text/csv"
            onChange={(e) => {
              const file = e.target.files?.[0]
              e.target.value = ''
              if (file) void attempt(async () => setImported(await api.importMeanings(dataset.id, file)))
            }}
          />
        </div>
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        {imported && (
          <p role="status" className="bg-verdigris-wash px-3 py-2 text-[13px]">
            {imported.taken?.length} {imported.taken?.length === 1 ? 'column was' : 'columns were'} given a meaning.
            {(imported.unknown ?? []).length > 0 && ` Not a column here: ${imported.unknown!.join(', ')}.`}
          </p>
        )}
        <table className="w-full text-left text-[13px]">
          <thead className="text-muted">
            <tr>
              {['Column', 'Said as', 'Unit', 'Written as', 'Meaning', 'Values'].map((title) => (
                <th key={title} scope="col" className="px-3 py-2 font-normal">
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {columns
              .filter((c) => `${c.name} ${c.label} ${c.meaning ?? ''}`.toLowerCase().includes(wanted))
              .map((c) => (
                <Row
                  key={c.name}
                  column={c}
                  said={said.get(c.name) ?? { column: c.name }}
                  focused={c.name === focus}
                  keep={keep}
                  writer={together.others.find((h) => h.place === c.name)?.name}
                  stand={together.stand}
                />
              ))}
          </tbody>
        </table>
      </fieldset>
    </div>
  )
}

/** Where the table comes from. */
function About({ dataset, attempt }: { dataset: Dataset; attempt: (act: () => Promise<unknown>) => Promise<void> }) {
  const proposed = useQuery({ queryKey: ['one row', dataset.version_id], queryFn: () => api.oneRow(dataset.id), staleTime: Infinity }).data
    ?.words
  const keep = (said: { name?: string; about?: string; origin?: string; one_row?: string }) => attempt(() => api.describe(dataset.id, said))
  const link = /^https?:\/\//i.test(dataset.origin)
  return (
    <div className="grid grid-cols-[200px_1fr_220px_240px] slim:grid-cols-1 gap-3 border-b border-line px-3 py-3 text-[13px]">
      <label className="flex flex-col gap-1">
        Name of the dataset
        <KeptField label="Name of the dataset" value={dataset.name} keep={(name) => keep({ name })} />
      </label>
      <label className="flex flex-col gap-1">
        Description
        <KeptField
          label="Description"
          value={dataset.about}
          placeholder="What a row is, who measured it, when, how"
          keep={(about) => keep({ about })}
        />
      </label>
      <label className="flex flex-col gap-1">
        <span className="flex justify-between gap-2">
          Each row is
          {proposed && !dataset.one_row && (
            <button type="button" className="link" onClick={() => void keep({ one_row: proposed })}>
              {proposed}
            </button>
          )}
        </span>
        <KeptField
          label="Each row is"
          value={dataset.one_row}
          placeholder="as: a hive in one season"
          keep={(one_row) => keep({ one_row })}
        />
      </label>
      <label className="flex flex-col gap-1">
        <span className="flex justify-between">
          Origin
          {link && (
            <a className="link" href={dataset.origin} target="_blank" rel="noreferrer noopener">
              Open it
            </a>
          )}
        </span>
        <KeptField label="Origin" value={dataset.origin} placeholder="https://… or where it is from" keep={(origin) => keep({ origin })} />
      </label>
    </div>
  )
}

function Row({
  column,
  said,
  focused,
  keep,
  writer,
  stand,
}: {
  column: ColumnProfile
  said: Meaning
  focused: boolean
  keep: (meaning: Meaning) => void
  /** Who else writes there. */
  writer?: string
  stand: SubjectHand['stand']
}) {
  const row = useRef<HTMLTableRowElement>(null)
  const [open, setOpen] = useState(false)
  useEffect(() => {
    if (!focused) return
    void row.current?.scrollIntoView({ block: 'nearest' })
    row.current?.querySelector('input')?.focus()
  }, [focused])
  const grouped = isGroups(column.kind)
  const named = Object.keys(said.codes ?? {}).length
  return (
    <>
      <tr
        ref={row}
        className="border-t border-line align-top"
        onFocus={() => void stand(column.name)}
        onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && void stand('')}
      >
        <th scope="row" className="w-52 px-3 py-2 font-normal">
          <span className="flex items-center gap-2 pt-1">
            <KindSign kind={column.kind} />
            <span className="truncate font-mono">{column.name}</span>
          </span>
          {writer && <span className="block pt-1 text-xs text-copper">{writer} is writing here</span>}
        </th>
        <td className="w-52 px-2 py-1.5">
          <KeptField
            locked={Boolean(writer)}
            label={`${column.name} is said as`}
            value={said.label ?? ''}
            placeholder={column.label}
            keep={(label) => keep({ ...said, label })}
          />
        </td>
        <td className="w-32 px-2 py-1.5">
          <KeptField
            locked={Boolean(writer)}
            label={`Unit of ${column.name}`}
            value={said.unit ?? ''}
            placeholder={said.unit ? '' : column.unit || 'none'}
            keep={(unit) => keep({ ...said, unit })}
          />
        </td>
        <td className="w-40 px-2 py-1.5">
          {column.kind === 'number' && (
            <Form locked={Boolean(writer)} column={column.name} form={said.form ?? ''} keep={(form) => keep({ ...said, form })} />
          )}
        </td>
        <td className="px-2 py-1.5">
          <KeptField
            locked={Boolean(writer)}
            label={`Meaning of ${column.name}`}
            value={said.meaning ?? ''}
            placeholder={column.meaning || 'What it is, how it was measured'}
            keep={(meaning) => keep({ ...said, meaning })}
          />
        </td>
        <td className="w-44 px-3 py-3 whitespace-nowrap">
          {grouped ? (
            <button
              type="button"
              className="link"
              aria-expanded={open}
              aria-label={`Name the values of ${column.name}`}
              onClick={() => setOpen(!open)}
            >
              {open ? 'Close' : named ? `${named} named` : 'Name them'}
            </button>
          ) : (
            <span className="text-muted">{column.kind === 'number' && column.groups ? 'read it as a category first' : ''}</span>
          )}
        </td>
      </tr>
      {open && <Codes column={column} said={said} keep={keep} />}
    </>
  )
}

/** How the numbers of a column are written in every chart. */
function Form({ column, form, keep, locked }: { column: string; form: string; keep: (form: string) => void; locked: boolean }) {
  const forms = useQuery({ queryKey: ['language'], queryFn: api.language, staleTime: Infinity }).data?.forms ?? []
  const [kept, ...said] = form.split(' ')
  const [begun, setBegun] = useState('') // a form that still needs more to be said
  const name = begun || kept
  const more = forms.find((f) => f.name === name)?.more
  const choose = (chosen: string) => {
    const needs = forms.find((f) => f.name === chosen)?.more
    setBegun(needs ? chosen : '')
    if (!needs) keep(chosen)
  }
  return (
    <span className="flex gap-1">
      <select
        className="field min-w-0 flex-1 py-1 text-[13px]"
        aria-label={`How ${column} is written`}
        value={name}
        disabled={locked}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="">as it is</option>
        {forms.map((f) => (
          <option key={f.name} value={f.name} title={f.help}>
            {f.name}
          </option>
        ))}
      </select>
      {more && (
        <span className="w-16">
          <KeptField
            label={`${name} of ${column}: ${more}`}
            value={name === kept ? said.join(' ') : ''}
            placeholder={more}
            keep={(text) => (setBegun(''), keep(`${name} ${text}`))}
          />
        </span>
      )}
    </span>
  )
}

/** What each value of a column of groups stands for, and its colour in all charts. */
function Codes({ column, said, keep }: { column: ColumnProfile; said: Meaning; keep: (meaning: Meaning) => void }) {
  return (
    <tr>
      <td colSpan={6} className="bg-strip px-3 pb-3">
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-x-6 gap-y-1.5 pt-2">
          {(said.values ?? []).map((value) => (
            <li key={value} className="grid grid-cols-[110px_1fr_auto] items-center gap-2">
              <span className="truncate text-right font-mono" title={value}>
                {value}
              </span>
              <KeptField
                label={`${value} of ${column.name} stands for`}
                value={said.codes?.[value] ?? ''}
                placeholder="stands for …"
                keep={(name) => keep({ ...said, codes: { ...said.codes, [value]: name } })}
              />
              <ColourField
                label={`Colour of ${value} in ${column.name}`}
                value={said.colours?.[value] ?? ''}
                usual="#8fa09d"
                keep={(colour) => keep({ ...said, colours: { ...said.colours, [value]: colour } })}
              />
            </li>
          ))}
        </ul>
        {(said.hard ?? []).map((words) => (
          <p key={words} role="status" className="pt-1.5 text-copper">
            {words}.
          </p>
        ))}
      </td>
    </tr>
  )
}

/** A field that is kept when it is left, or with Enter; Escape leaves it as it was. */
function KeptField({
  label,
  value,
  placeholder,
  keep,
  locked,
}: {
  label: string
  value: string
  placeholder?: string
  keep: (value: string) => void
  /** Somebody else writes there. */
  locked?: boolean
}) {
  const [text, setText] = useState(value)
  const was = useRef(value)
  // What others keep meanwhile is taken, unless something of one's own is being typed.
  useEffect(() => {
    const before = was.current
    was.current = value
    setText((now) => (now.trim() === before ? value : now))
  }, [value])
  return (
    <input
      className="field py-1 text-[13px]"
      aria-label={label}
      value={text}
      placeholder={placeholder}
      readOnly={locked}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text.trim() !== value && keep(text.trim())}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur()
        if (e.key === 'Escape') setText(value)
      }}
    />
  )
}
