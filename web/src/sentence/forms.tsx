import { useState, type FormEvent, type ReactNode } from 'react'
import type { Document } from '../api/client'
import type { Bench } from '../state/bench'
import { useBench } from '../state/useBench'
import { scaleX, scaleY } from '../figure/figure'
import { Trouble } from '../ui/Words'

function Form({
  title,
  bench,
  document,
  close,
  without,
  children,
}: {
  title: string
  bench: Bench
  document: () => Document
  close: () => void
  without?: Document
  children: ReactNode
}) {
  const { refusal } = useBench(bench, 'refusal')
  const keep = async (e: FormEvent) => {
    e.preventDefault()
    if (await bench.change(document())) close()
  }
  return (
    <form onSubmit={keep} className="flex w-[340px] flex-col gap-3 rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <div className="flex items-baseline justify-between">
        <h3 className="font-serif text-base font-semibold">{title}</h3>
        {without && (
          <button
            type="button"
            className="text-[13px] text-copper hover:underline"
            onClick={async () => (await bench.change(without)) && close()}
          >
            take out of the sentence
          </button>
        )}
      </div>
      {children}
      {refusal && <Trouble message={refusal.message} advice={refusal.advice} />}
      <div className="flex justify-end gap-2">
        <button type="button" className="button-plain" onClick={close}>
          Leave as it was
        </button>
        <button className="button-bright">Keep</button>
      </div>
    </form>
  )
}

export function TitleForm({ bench, close }: { bench: Bench; close: () => void }) {
  const { document } = useBench(bench, 'document')
  const [title, setTitle] = useState(document.title ?? '')
  const [subtitle, setSubtitle] = useState(document.subtitle ?? '')
  const [centred, setCentred] = useState(document.title_centred ?? false)
  const [note, setNote] = useState(document.note ?? '')
  return (
    <Form
      title="Title and note"
      bench={bench}
      close={close}
      document={() => ({
        ...document,
        title: title.trim() || undefined,
        subtitle: subtitle.trim() || undefined,
        title_centred: centred || undefined,
        note: note.trim() || undefined,
      })}
      without={document.title ? { ...document, title: undefined, subtitle: undefined, title_centred: undefined } : undefined}
    >
      <label className="flex flex-col gap-1">
        Title
        <input className="field" autoFocus value={title} onChange={(e) => setTitle(e.target.value)} />
      </label>
      <label className="flex flex-col gap-1">
        Subtitle
        <input className="field" value={subtitle} onChange={(e) => setSubtitle(e.target.value)} />
      </label>
      <label className="flex items-center gap-2">
        <input type="checkbox" className="accent-verdigris" checked={centred} onChange={(e) => setCentred(e.target.checked)} />
        over the middle of the chart
      </label>
      <label className="flex flex-col gap-1">
        Note
        <textarea className="field" rows={2} value={note} onChange={(e) => setNote(e.target.value)} />
      </label>
    </Form>
  )
}

/** Reads a number as people type it: with a true minus sign, or marks between thousands. */
function read(text: string): number | undefined {
  const plain = text.trim().replace('−', '-').replace(/[, ]/g, '')
  return plain === '' ? undefined : Number(plain)
}

/** Reads a date, as seconds since 1970. */
const readDate = (text: string): number | undefined => (text === '' ? undefined : Date.parse(`${text}T00:00:00Z`) / 1000)

const dateOf = (seconds: number): string => new Date(seconds * 1000).toISOString().slice(0, 10)

export function LimitsForm({ bench, axis, close }: { bench: Bench; axis: 'x' | 'y'; close: () => void }) {
  const { document, drawing } = useBench(bench, 'document', 'drawing')
  const said = document.scales?.[axis]
  const shown = drawing && (axis === 'x' ? scaleX : scaleY)(drawing.figure)
  const dates = shown?.kind === 'date'
  const write = (v: number) => (dates ? dateOf(v) : String(v))
  const [from, setFrom] = useState(said?.limits ? write(said.limits.from) : '')
  const [to, setTo] = useState(said?.limits ? write(said.limits.to) : '')
  const [title, setTitle] = useState(said?.title ?? '')
  const [unit, setUnit] = useState(said?.unit ?? '')
  const [every, setEvery] = useState(said?.every ? String(said.every) : '')
  const [form, setForm] = useState<string>(said?.form ?? '')
  const [a, b] = [from, to].map(dates ? readDate : read)
  const step = read(every)
  const wrong = [a, b, step].some((v) => v !== undefined && Number.isNaN(v))
    ? 'a limit is a number such as 2,500'
    : (a === undefined) !== (b === undefined)
      ? 'say both ends, or neither'
      : ''
  const stated = (): Document => {
    const limits = a !== undefined && b !== undefined && !wrong ? { from: a, to: b, ...(dates && { dates: true }) } : undefined
    const next = {
      ...said,
      limits,
      title: title.trim() || undefined,
      unit: unit.trim() || undefined,
      every: step || undefined,
      form: (form || undefined) as '120k' | 'percent' | 'plain' | 'currency' | 'decimals' | undefined,
    }
    return { ...document, scales: { ...document.scales, [axis]: next } }
  }
  const without =
    said && (said.limits || said.title || said.unit || said.every || said.form)
      ? { ...document, scales: { ...document.scales, [axis]: { scale: said.scale, base: said.base } } }
      : undefined
  const field = { className: 'field', ...(dates ? { type: 'date' } : { inputMode: 'decimal' as const }) }
  const ends = shown && !dates ? [shown.from, shown.to].map((v) => String(Number(v.toPrecision(4)))) : ['', '']
  return (
    <Form title={`Axis ${axis}: ${shown?.name ?? ''}`} bench={bench} close={close} document={stated} without={without}>
      <div className="grid grid-cols-2 gap-3">
        <label className="flex flex-col gap-1">
          From
          <input {...field} autoFocus placeholder={ends[0]} value={from} onChange={(e) => setFrom(e.target.value)} />
        </label>
        <label className="flex flex-col gap-1">
          To
          <input {...field} placeholder={ends[1]} value={to} onChange={(e) => setTo(e.target.value)} />
        </label>
      </div>
      {wrong ? (
        <p role="alert" className="text-[13px] text-copper">
          {wrong}
        </p>
      ) : (
        <p className="text-[13px] text-muted">Limits change the view alone: fits use every row. From above To turns the axis round.</p>
      )}
      {!dates && shown?.kind !== 'groups' && (
        <div className="grid grid-cols-2 gap-3">
          <label className="flex flex-col gap-1">
            Ticks every
            <input className="field" inputMode="decimal" value={every} onChange={(e) => setEvery(e.target.value)} />
          </label>
          <label className="flex flex-col gap-1">
            Numbers as
            <select className="field" value={form} onChange={(e) => setForm(e.target.value)}>
              <option value="">120,000</option>
              <option value="120k">120k</option>
              <option value="percent">percent</option>
              <option value="plain">plain: 2029</option>
              {said?.form === 'currency' && <option value="currency">{said.symbol}120,000</option>}
              {said?.form === 'decimals' && <option value="decimals">{said.digits} decimals</option>}
            </select>
          </label>
        </div>
      )}
      <label className="flex flex-col gap-1">
        Title
        <input className="field" placeholder={shown?.name} value={title} onChange={(e) => setTitle(e.target.value)} />
      </label>
      <label className="flex flex-col gap-1">
        Unit
        <input className="field" placeholder={shown?.unit} value={unit} onChange={(e) => setUnit(e.target.value)} />
      </label>
    </Form>
  )
}

/** The rows that the chart is of. */
export function WhereForm({ bench, close }: { bench: Bench; close: () => void }) {
  const { document } = useBench(bench, 'document')
  const [where, setWhere] = useState(document.where ?? '')
  return (
    <Form
      title="Of rows where"
      bench={bench}
      close={close}
      document={() => ({ ...document, where: where.trim() || undefined })}
      without={document.where ? { ...document, where: undefined } : undefined}
    >
      <label className="flex flex-col gap-1">
        Condition
        <textarea
          className="field"
          rows={3}
          autoFocus
          spellCheck={false}
          placeholder="season >= 2029 and district <> 'Tarn'"
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
