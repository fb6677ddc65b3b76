import { useId, useState, type FormEvent, type ReactNode } from 'react'
import type { Amendment, ColumnProfile } from '../api/client'
import type { Bench } from '../state/bench'
import { useBench } from '../state/useBench'
import { Trouble } from '../ui/Words'
import { textLine, whereLine } from './lines'
import { retied } from './ties'
import { columnText } from './quoting'

export function Form({
  title,
  bench,
  change,
  wrong = '',
  close,
  without,
  children,
}: {
  title: string
  bench: Bench
  change: () => Amendment
  /** What keeps the change from being made. */
  wrong?: string
  close: () => void
  without?: Amendment
  children: ReactNode
}) {
  const { refusal } = useBench(bench, 'refusal')
  const id = useId()
  const keep = async (e: FormEvent) => {
    e.preventDefault()
    if (!wrong && (await bench.amend(change()))) close()
  }
  return (
    <form onSubmit={keep} className="flex w-[340px] flex-col gap-3 rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <div className="flex items-baseline justify-between">
        <h3 className="font-serif text-base font-semibold">{title}</h3>
        {without && (
          <button
            type="button"
            className="text-[13px] text-copper hover:underline"
            onClick={async () => (await bench.amend(without)) && close()}
          >
            take out of the sentence
          </button>
        )}
      </div>
      <div role="group" aria-label={title} aria-describedby={wrong || refusal ? id : undefined} className="flex flex-col gap-3">
        {children}
      </div>
      <div id={id} className="empty:hidden">
        {wrong && (
          <p role="alert" className="text-[13px] text-copper">
            {wrong}
          </p>
        )}
        {refusal && <Trouble message={refusal.message} advice={refusal.advice} />}
      </div>
      <div className="flex justify-end gap-2">
        <button type="button" className="button-plain" onClick={close}>
          Leave as it was
        </button>
        <button className="button-bright">Keep</button>
      </div>
    </form>
  )
}

const WORDS = ['title', 'subtitle', 'note']

/** What stands over and under the chart; first is what is written in at once. */
export function TitleForm({ bench, first, close }: { bench: Bench; first: string; close: () => void }) {
  const { document, drawing } = useBench(bench, 'document', 'drawing')
  const [title, setTitle] = useState(document.manner?.title ?? '')
  const [subtitle, setSubtitle] = useState(document.manner?.subtitle ?? '')
  const [centred, setCentred] = useState(document.manner?.title_centred ?? false)
  const [note, setNote] = useState(drawing?.figure.note ?? document.manner?.note ?? '')
  return (
    <Form
      title="Title and note"
      bench={bench}
      close={close}
      change={() => ({
        drop: WORDS,
        say: [
          ...textLine('title', title).map((line) => (centred ? `${line} centred` : line)),
          ...textLine('subtitle', subtitle),
          ...textLine('note', retied(note, document.manner?.note ?? '', drawing?.reading)),
        ],
      })}
      without={document.manner?.title || document.manner?.subtitle ? { drop: ['title', 'subtitle'] } : undefined}
    >
      <label className="flex flex-col gap-1">
        Title
        <input className="field" autoFocus={first === 'title'} value={title} onChange={(e) => setTitle(e.target.value)} />
      </label>
      <label className="flex flex-col gap-1">
        Subtitle
        <input className="field" autoFocus={first === 'subtitle'} value={subtitle} onChange={(e) => setSubtitle(e.target.value)} />
      </label>
      <label className="flex items-center gap-2">
        <input type="checkbox" className="accent-verdigris" checked={centred} onChange={(e) => setCentred(e.target.checked)} />
        over the middle of the chart
      </label>
      <label className="flex flex-col gap-1">
        Note
        <textarea className="field" rows={2} autoFocus={first === 'note'} value={note} onChange={(e) => setNote(e.target.value)} />
      </label>
    </Form>
  )
}

/** A condition as it could be said of the columns at hand. */
function conditionLike(columns: ColumnProfile[]): string {
  const number = columns.find((c) => c.kind === 'number')
  const groups = columns.find((c) => c.kind === 'category')
  return (
    [number && `${columnText(number.name)} >= 10`, groups && `${columnText(groups.name)} is not null`].filter(Boolean).join(' and ') ||
    (columns[0] ? `${columnText(columns[0].name)} is not null` : '')
  )
}

/** The rows that the chart is of. */
export function WhereForm({ bench, columns, close }: { bench: Bench; columns: ColumnProfile[]; close: () => void }) {
  const { document } = useBench(bench, 'document')
  const [where, setWhere] = useState(document.rows?.where ?? '')
  return (
    <Form
      title="Of rows where"
      bench={bench}
      close={close}
      change={() => ({ drop: ['of rows where'], say: whereLine(where) })}
      without={document.rows?.where ? { drop: ['of rows where'] } : undefined}
    >
      <label className="flex flex-col gap-1">
        Condition
        <textarea
          className="field"
          rows={3}
          autoFocus
          spellCheck={false}
          placeholder={conditionLike(columns)}
          value={where}
          onChange={(e) => setWhere(e.target.value)}
        />
      </label>
      <p className="text-[13px] text-muted">
        Of this chart alone. Columns by their names, texts in single quotes; and, or, not, between, in, is null.
      </p>
    </Form>
  )
}
