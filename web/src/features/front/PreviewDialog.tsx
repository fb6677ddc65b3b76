import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, Refusal, type Dataset, type Preview, type ReadOptions } from '../../api/client'
import { counted, formatNumber } from '../../scale/format'
import { Dialog } from '../../ui/Dialog'
import { isAmount } from '../../ui/kinds'
import { KindSign } from '../../ui/KindSign'
import { SampleSign } from '../../ui/SampleSign'
import { Trouble } from '../../ui/Words'

const SEPARATORS = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
  [' ', 'blanks'],
]

type Note = NonNullable<Preview['report']['notes']>[number]

/** How each offer of a note is said, and what it asks for. */
const OFFERS: Record<string, [string, (note: Note, now: ReadOptions) => ReadOptions]> = {
  text: ['keep as text', (note, now) => ({ as: { ...now.as, [note.column!]: 'text' } })],
  number: ['read as numbers, the others as missing', (note, now) => ({ as: { ...now.as, [note.column!]: 'number' } })],
  unnamed: ['read the numbers', (note, now) => ({ as: { ...now.as, [note.column!]: 'unnamed' } })],
  limit: ['take the limit itself', (note, now) => ({ as: { ...now.as, [note.column!]: 'limit' } })],
  half: ['take half of the limit', (note, now) => ({ as: { ...now.as, [note.column!]: 'half' } })],
  date: ['read as months', (note, now) => ({ as: { ...now.as, [note.column!]: 'date' } })],
  gap: ['read it as missing', (note, now) => ({ as: { ...now.as, [note.column!]: 'gap' } })],
  value: ['keep it as a value', (note, now) => ({ as: { ...now.as, [note.column!]: 'value' } })],
  bare: ['leave it in the name', (note, now) => ({ as: { ...now.as, [note.column!]: 'bare' } })],
  'month first': ['the month comes first', () => ({ month_first: true })],
  'day first': ['the day comes first', () => ({ month_first: false })],
  'leave sum': ['leave sums out', () => ({ leave_sum: true })],
  'keep below': ['keep it as a row', () => ({ keep_below: true })],
}

/** Formats whose files do not say how their letters are written. */
const LETTERED = ['delimited text', 'transport file', '.dta file', '.sav file']

/** What a file looks like before it is kept, with the choices that reading it made. */
export function PreviewDialog({ preview: first, decided }: { preview: Preview; decided: (dataset?: Dataset) => void }) {
  const queries = useQueryClient()
  const [preview, setPreview] = useState(first)
  const [all] = useState(() => first.columns?.map((c) => c.name) ?? [])
  const [said, setSaid] = useState<string | null>(null)
  const name = said ?? nameOf((preview.report.sheets ?? []).length > 1 ? preview.report.sheet! : preview.name)
  const [dropped, setDropped] = useState<Set<string>>(new Set())
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const [options, setOptions] = useState<ReadOptions>({}) // what was said; all else is found out
  const encodings = useQuery({ queryKey: ['language'], queryFn: api.language, staleTime: Infinity }).data?.encodings ?? []
  const attempt = async (act: () => Promise<void>) => {
    setBusy(true)
    setTrouble(null)
    try {
      await act()
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  const readAgain = (change: ReadOptions) =>
    attempt(async () => {
      const next = { ...options, ...change }
      setPreview(await api.readAgain(preview.key, next))
      setDropped(new Set())
      setOptions(next)
    })
  const keep = () =>
    attempt(async () => {
      if (dropped.size > 0)
        await api.readAgain(preview.key, { ...options, keep: columns.filter((c) => !dropped.has(c.name)).map((c) => c.name) })
      const dataset = await api.keep(preview.key, name)
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      decided(dataset)
    })
  const close = () => {
    void api.discard(preview.key).catch(() => {})
    decided()
  }
  const columns = preview.columns ?? []
  const { report } = preview
  const delimited = report.format === 'delimited text'
  const lettered = LETTERED.includes(report.format)
  const sheets = report.sheets ?? []
  return (
    <Dialog title={preview.name} onClose={close}>
      <div className="flex flex-col gap-4">
        <p className="text-muted">
          {counted(preview.rows, 'row')}, {counted(columns.length, 'column')} · {delimited ? report.encoding : report.format}
          {all.length !== columns.length && ` (${all.length} at first)`}
        </p>
        {report.drawn && <SampleSign drawn={report.drawn} />}
        {(lettered || sheets.length > 0) && (
          <div className="flex flex-wrap items-end gap-4">
            {sheets.length > 0 && (
              <Choice
                label={report.format === 'workbook' ? 'Sheet' : 'Table'}
                value={options.sheet ?? report.sheet ?? ''}
                choices={sheets.map((name) => [name, name])}
                onChange={(sheet) => readAgain({ sheet, title_row: 0 })}
              />
            )}
            {delimited && (
              <>
                <Choice
                  label="Separator"
                  value={options.separator ?? (report.divided ? ' ' : report.separator)}
                  choices={SEPARATORS.map(([sign, words]) => [sign, sign === ' ' ? report.divided || words : words])}
                  onChange={(separator) => readAgain({ separator })}
                />
                <Choice
                  label="Decimal mark"
                  value={options.decimal ?? report.decimal}
                  choices={[
                    ['.', 'point'],
                    [',', 'comma'],
                  ]}
                  onChange={(decimal) => readAgain({ decimal })}
                />
              </>
            )}
            {lettered && (
              <Choice
                label="Letters"
                value={options.encoding ?? report.encoding}
                choices={encodings.map((name) => [name, name])}
                onChange={(encoding) => readAgain({ encoding })}
              />
            )}
            {report.title_row !== 0 && (
              <Choice
                label="Title row"
                value={String(options.title_row || report.title_row)}
                choices={[['-1', 'none'], ...[1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((n) => [String(n), `row ${n}`])]}
                onChange={(row) => readAgain({ title_row: Number(row) })}
              />
            )}
          </div>
        )}
        {(report.notes ?? []).length > 0 && (
          <details
            className="rounded-md bg-copper-wash px-3 py-2"
            open={report.note_count < 9 || (report.notes ?? []).some((note) => note.offers?.length)}
          >
            <summary className="cursor-pointer">
              {report.note_count === 1
                ? 'One place was read otherwise than it stands'
                : `${formatNumber(report.note_count, 0)} places were read otherwise than they stand`}
            </summary>
            <ul className="mt-1 max-h-44 overflow-auto text-[13px]">
              {(report.notes ?? []).map((note, i) => (
                <li key={i}>
                  {note.line ? `Line ${note.line}` : 'All lines'}
                  {note.column && `, ${note.column}`}: {note.message}
                  {(note.offers ?? []).map((offer) => (
                    <button
                      key={offer}
                      type="button"
                      className="link ml-2"
                      disabled={busy}
                      onClick={() => readAgain(OFFERS[offer][1](note, options))}
                    >
                      {OFFERS[offer][0]}
                    </button>
                  ))}
                </li>
              ))}
            </ul>
          </details>
        )}
        <div
          className="max-h-[max(180px,calc(86vh-480px))] overflow-auto rounded-lg border border-line bg-paper"
          tabIndex={0}
          role="region"
          aria-label="The first rows"
        >
          <table className="w-full text-left text-[13px]">
            <thead>
              <tr>
                {columns.map((c) => (
                  <th
                    key={c.name}
                    scope="col"
                    className={`min-w-28 border-b border-line bg-strip px-3 py-2 align-top font-normal ${dropped.has(c.name) ? 'opacity-40' : ''}`}
                  >
                    <label className="flex items-center gap-1.5 font-semibold whitespace-nowrap">
                      <input
                        type="checkbox"
                        className="accent-copper"
                        checked={!dropped.has(c.name)}
                        onChange={() =>
                          setDropped((now) => new Set(now.has(c.name) ? [...now].filter((n) => n !== c.name) : [...now, c.name]))
                        }
                      />
                      {c.name}
                    </label>
                    <span className="flex items-center gap-1.5 text-muted">
                      <KindSign kind={c.kind} className="size-3.5" />
                      {c.kind}
                      {c.unit && ` · ${c.unit}`}
                    </span>
                    {c.missing > 0 && <span className="text-copper">{formatNumber(c.missing, 0)} missing</span>}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="tabular-nums">
              {(preview.first ?? []).map((row, i) => (
                <tr key={i} className="border-b border-line last:border-0">
                  {(row ?? []).map((value, j) => (
                    <td key={j} className={`max-w-56 truncate px-3 py-1 ${isAmount(columns[j]?.kind ?? '') ? 'text-right' : ''}`}>
                      {value === '' ? <span className="rounded bg-copper-wash px-1.5 text-xs text-copper">missing</span> : value}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        <form
          className="flex flex-wrap items-end justify-end gap-3"
          onSubmit={(e) => {
            e.preventDefault()
            void keep()
          }}
        >
          <label className="mr-auto flex min-w-64 flex-col gap-1">
            Name of the dataset
            <input className="field" value={name} maxLength={300} onChange={(e) => setSaid(e.target.value)} />
          </label>
          <button type="button" className="button-plain" onClick={close}>
            Discard
          </button>
          <button className="button-bright" disabled={busy || dropped.size === columns.length}>
            Keep
          </button>
        </form>
      </div>
    </Dialog>
  )
}

function nameOf(file: string): string {
  const name = file
    .replace(/\.gz$/, '')
    .replace(/\.[^.]+$/, '')
    .replace(/[_.]+/g, ' ')
    .trim()
  return name ? name.charAt(0).toUpperCase() + name.slice(1) : 'Table'
}

function Choice({
  label,
  value,
  choices,
  onChange,
}: {
  label: string
  value: string
  choices: string[][]
  onChange: (value: string) => void
}) {
  return (
    <label className="flex flex-col gap-1 text-[13px]">
      {label}
      <select className="field min-w-32 py-1.5" value={value} onChange={(e) => onChange(e.target.value)}>
        {choices.some(([v]) => v === value) ? null : <option value={value}>{value}</option>}
        {choices.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </label>
  )
}
