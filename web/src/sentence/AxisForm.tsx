import { useState } from 'react'
import type { Amendment, Document } from '../api/client'
import { scaleX, scaleY, type AxisScale } from '../figure/figure'
import type { Bench } from '../state/bench'
import { useBench } from '../state/useBench'
import { Form } from './forms'
import { limitsSaid } from './lines'
import { valueText } from './quoting'

type Said = NonNullable<NonNullable<Document['scales']>['x']>

/** What stands in the fields of the form, as it is typed. */
interface Draft {
  from: string
  to: string
  scale: '' | 'log' | 'near-linear'
  base: string
  reversed: boolean
  ticks: string
  form: '' | '120k' | 'percent' | 'plain' | 'currency' | 'decimals' | 'duration'
  symbol: string
  digits: string
  title: string
  untitled: boolean
  unit: string
}

/** The axis that goes each way. */
export const WAY = { x: 'horizontal', y: 'vertical' }

/** Reads a number as people type it: with a true minus sign, or marks between thousands. */
function read(text: string): number | undefined {
  const plain = text.trim().replace('−', '-').replace(/[, ]/g, '')
  return plain === '' ? undefined : Number(plain)
}

/** Reads a date, as seconds since 1970. */
const readDate = (text: string): number | undefined => (text === '' ? undefined : Date.parse(`${text}T00:00:00Z`) / 1000)

const dateOf = (seconds: number): string => new Date(seconds * 1000).toISOString().slice(0, 10)

function draftOf(said: Said, dates: boolean): Draft {
  const write = (v: number) => (dates ? dateOf(v) : String(v))
  return {
    from: said.limits ? write(said.limits.from) : '',
    to: said.limits ? write(said.limits.to) : '',
    scale: said.scale ?? '',
    base: said.base ? String(said.base) : '',
    reversed: said.reversed ?? false,
    ticks: said.every ? `every ${said.every}` : (said.ticks ?? []).join('; '),
    form: said.form ?? '',
    symbol: said.symbol ?? '',
    digits: said.form === 'decimals' ? String(said.digits ?? 0) : '',
    title: said.title ?? '',
    untitled: said.untitled ?? false,
    unit: said.unit ?? '',
  }
}

/** Ticks as they are typed: a step behind "every", or values with semicolons or commas and blanks between them. */
function ticksOf(text: string): { every?: number; at?: number[]; wrong: boolean } {
  const plain = text.trim()
  if (plain === '') return { wrong: false }
  const step = /^every\s+(.+)$/i.exec(plain)
  if (step) {
    const every = read(step[1])
    return { every, wrong: !(every! > 0) }
  }
  const at = plain
    .split(/;|,\s/)
    .filter((t) => t.trim() !== '')
    .map((t) => read(t)!)
  return { at, wrong: at.some((v) => Number.isNaN(v)) }
}

/** What a draft says of an axis in the place of what is said, or what is wrong with it. */
export function axisSaid(axis: 'x' | 'y', draft: Draft, dates: boolean): { amendment: Amendment; wrong: string } {
  const [from, to] = [draft.from, draft.to].map(dates ? readDate : read)
  const ticks = ticksOf(draft.ticks)
  const wrong =
    Number.isNaN(from) || Number.isNaN(to)
      ? 'a limit is a number such as 2,500'
      : (from === undefined) !== (to === undefined)
        ? 'say both ends, or neither'
        : ticks.wrong
          ? 'say every 500, or the values of ticks such as 0; 250; 1,000'
          : ''
  const forms = { '': [], currency: [`as currency ${valueText(draft.symbol || '£')}`], decimals: [`as ${draft.digits || 2} decimals`] }
  const parts = [
    ...(from !== undefined && to !== undefined ? [limitsSaid(from, to, dates)] : []),
    ...(draft.untitled ? ['untitled'] : draft.title.trim() ? [`titled ${valueText(draft.title.trim())}`] : []),
    ...(draft.unit.trim() ? [`in ${valueText(draft.unit.trim())}`] : []),
    ...(forms[draft.form as ''] ?? [`as ${draft.form}`]),
  ]
  return {
    wrong,
    amendment: {
      drop: clausesOf(axis),
      say: [
        ...(draft.scale === 'log' ? [`log ${axis}${draft.base.trim() ? ` base ${read(draft.base)}` : ''}`] : []),
        ...(draft.scale === 'near-linear' ? [`near-linear at zero ${axis}`] : []),
        ...(draft.reversed ? [`${axis} reversed`] : []),
        ...(ticks.every ? [`ticks ${axis} every ${ticks.every}`] : ticks.at?.length ? [`ticks ${axis} at ${ticks.at.join(', ')}`] : []),
        ...(parts.length > 0 ? [`${axis} ${parts.join(' ')}`] : []),
      ],
    },
  }
}

/** The clauses that speak of an axis. */
const clausesOf = (axis: 'x' | 'y') => [axis, `${axis} reversed`, `ticks ${axis}`, `log ${axis}`, `near-linear at zero ${axis}`]

/** All that can be said of an axis, in one place. */
export function AxisForm({ bench, axis, close, another }: { bench: Bench; axis: 'x' | 'y'; close: () => void; another: () => void }) {
  const { document, drawing } = useBench(bench, 'document', 'drawing')
  const said = document.scales?.[axis] ?? {}
  const shown = drawing && (axis === 'x' ? scaleX : scaleY)(drawing.figure)
  const dates = shown?.kind === 'date'
  const [draft, setDraft] = useState(() => draftOf(said, dates))
  const set = (part: Partial<Draft>) => setDraft({ ...draft, ...part })
  const { amendment, wrong } = axisSaid(axis, draft, dates)
  const spoken = Object.keys(said).length > 0
  const name = shown?.name || document[axis].column || axis
  return (
    <Form
      title={name}
      bench={bench}
      close={close}
      change={() => amendment}
      wrong={wrong}
      without={spoken ? { drop: clausesOf(axis) } : undefined}
    >
      <p className="-mt-2 text-[13px] text-muted">
        {axis}, the {WAY[axis]} axis ·{' '}
        <button type="button" className="link" onClick={another}>
          another column
        </button>
      </p>
      {shown?.kind !== 'groups' && <Limits draft={draft} set={set} shown={shown} dates={dates} wrong={/ends|limit|date/.test(wrong)} />}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={draft.reversed}
          onChange={(e) => set({ reversed: e.target.checked })}
        />
        turned round
      </label>
      {shown?.kind !== 'groups' && !dates && <Numbers draft={draft} set={set} />}
      <div className="grid grid-cols-[1fr_110px] gap-3">
        <label className="flex flex-col gap-1">
          Title
          <input
            className="field"
            placeholder={shown?.name}
            disabled={draft.untitled}
            value={draft.title}
            onChange={(e) => set({ title: e.target.value })}
          />
        </label>
        <label className="flex flex-col gap-1">
          Unit
          <input className="field" placeholder={shown?.unit} value={draft.unit} onChange={(e) => set({ unit: e.target.value })} />
        </label>
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-verdigris"
          checked={draft.untitled}
          onChange={(e) => set({ untitled: e.target.checked })}
        />
        no title
      </label>
    </Form>
  )
}

interface PartProps {
  draft: Draft
  set: (part: Partial<Draft>) => void
}

function Limits({ draft, set, shown, dates, wrong }: PartProps & { shown: AxisScale | null; dates: boolean; wrong: boolean }) {
  const field = {
    'aria-invalid': wrong || undefined,
    className: 'field',
    ...(dates ? { type: 'date' } : { inputMode: 'decimal' as const }),
  }
  const ends = shown && !dates ? [shown.from, shown.to].map((v) => String(Number(v.toPrecision(4)))) : ['', '']
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <label className="flex flex-col gap-1">
          From
          <input {...field} autoFocus placeholder={ends[0]} value={draft.from} onChange={(e) => set({ from: e.target.value })} />
        </label>
        <label className="flex flex-col gap-1">
          To
          <input {...field} placeholder={ends[1]} value={draft.to} onChange={(e) => set({ to: e.target.value })} />
        </label>
      </div>
      <p className="-mt-1 text-[13px] text-muted">Limits change the view alone: fits use every row.</p>
    </>
  )
}

function Numbers({ draft, set }: PartProps) {
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <label className="flex flex-col gap-1">
          Scale
          <select className="field" value={draft.scale} onChange={(e) => set({ scale: e.target.value as Draft['scale'] })}>
            <option value="">as usual</option>
            <option value="log">log</option>
            <option value="near-linear">near-linear at zero</option>
          </select>
        </label>
        {draft.scale === 'log' && (
          <label className="flex flex-col gap-1">
            Base
            <input className="field" placeholder="10" value={draft.base} onChange={(e) => set({ base: e.target.value })} />
          </label>
        )}
      </div>
      <div className="grid grid-cols-2 gap-3">
        <label className="flex flex-col gap-1">
          Ticks
          <input className="field" placeholder="every 500" value={draft.ticks} onChange={(e) => set({ ticks: e.target.value })} />
        </label>
        <label className="flex flex-col gap-1">
          Numbers as
          <select className="field" value={draft.form} onChange={(e) => set({ form: e.target.value as Draft['form'] })}>
            <option value="">120,000</option>
            <option value="120k">120k</option>
            <option value="percent">percent</option>
            <option value="plain">plain: 2029</option>
            <option value="duration">lengths of time: 1 h 30 min</option>
            <option value="currency">a currency</option>
            <option value="decimals">so many decimals</option>
          </select>
        </label>
      </div>
      {draft.form === 'currency' && (
        <label className="flex flex-col gap-1">
          Its sign
          <input className="field" placeholder="£" value={draft.symbol} onChange={(e) => set({ symbol: e.target.value })} />
        </label>
      )}
      {draft.form === 'decimals' && (
        <label className="flex flex-col gap-1">
          How many decimals
          <input
            className="field"
            inputMode="numeric"
            placeholder="2"
            value={draft.digits}
            onChange={(e) => set({ digits: e.target.value })}
          />
        </label>
      )}
    </>
  )
}
