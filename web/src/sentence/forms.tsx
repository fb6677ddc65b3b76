import { useState, type FormEvent, type ReactNode } from 'react'
import type { Document } from '../api/client'
import type { Bench } from '../state/bench'
import { useBench } from '../features/chart/useBench'
import { Trouble } from '../ui/Words'

function Form({ title, bench, document, close, without, children }: { title: string; bench: Bench; document: () => Document; close: () => void; without?: Document; children: ReactNode }) {
  const { refusal } = useBench(bench)
  const keep = async (e: FormEvent) => {
    e.preventDefault()
    if (await bench.change(document())) close()
  }
  return (
    <form onSubmit={keep} className="flex w-[340px] flex-col gap-3 rounded-xl border border-line bg-strip p-4 shadow-2xl">
      <div className="flex items-baseline justify-between">
        <h3 className="font-serif text-base font-semibold">{title}</h3>
        {without && (
          <button type="button" className="text-[13px] text-copper hover:underline" onClick={async () => (await bench.change(without)) && close()}>
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
  const { document } = useBench(bench)
  const [title, setTitle] = useState(document.title ?? '')
  const [note, setNote] = useState(document.note ?? '')
  return (
    <Form title="Title and note" bench={bench} close={close} document={() => ({ ...document, title: title.trim() || undefined, note: note.trim() || undefined })} without={document.title ? { ...document, title: undefined } : undefined}>
      <label className="flex flex-col gap-1">
        Title
        <input className="field" autoFocus value={title} onChange={(e) => setTitle(e.target.value)} />
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

export function LimitsForm({ bench, axis, close }: { bench: Bench; axis: 'x' | 'y'; close: () => void }) {
  const { document, drawing } = useBench(bench)
  const name = axis === 'x' ? 'x_axis' : 'y_axis'
  const said = document[name]
  const shown = drawing?.figure[axis]
  const [from, setFrom] = useState(said?.limits ? String(said.limits.from) : '')
  const [to, setTo] = useState(said?.limits ? String(said.limits.to) : '')
  const [title, setTitle] = useState(said?.title ?? '')
  const [unit, setUnit] = useState(said?.unit ?? '')
  const [a, b] = [read(from), read(to)]
  const wrong = [a, b].some((v) => v !== undefined && Number.isNaN(v)) ? 'a limit is a number such as 2,500' : (a === undefined) !== (b === undefined) ? 'say both ends, or neither' : ''
  const stated = (): Document => {
    const next = { limits: a !== undefined && b !== undefined && !wrong ? { from: a, to: b } : undefined, title: title.trim() || undefined, unit: unit.trim() || undefined }
    return { ...document, [name]: next.limits || next.title || next.unit ? next : undefined }
  }
  return (
    <Form title={`Axis ${axis}: ${shown?.name ?? ''}`} bench={bench} close={close} document={stated} without={said ? { ...document, [name]: undefined } : undefined}>
      <div className="grid grid-cols-2 gap-3">
        <label className="flex flex-col gap-1">
          From
          <input className="field" autoFocus inputMode="decimal" placeholder={shown ? String(Number(shown.from.toPrecision(4))) : ''} value={from} onChange={(e) => setFrom(e.target.value)} />
        </label>
        <label className="flex flex-col gap-1">
          To
          <input className="field" inputMode="decimal" placeholder={shown ? String(Number(shown.to.toPrecision(4))) : ''} value={to} onChange={(e) => setTo(e.target.value)} />
        </label>
      </div>
      {wrong ? (
        <p role="alert" className="text-[13px] text-copper">
          {wrong}
        </p>
      ) : (
        <p className="text-[13px] text-muted">Limits change the view alone: fits use every row. From above To turns the axis round.</p>
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
