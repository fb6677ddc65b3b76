import { useEffect, useRef, useState, type FormEvent, type ReactNode } from 'react'
import { inSpace } from '../../api/space'
import type { Me, Refusal, Share } from '../../api/client'
import { useQueryClient } from '@tanstack/react-query'
import type { GoesOut } from '../../figure/figure'
import { counted, formatNumber } from '../../scale/format'
import { Trouble } from '../../ui/Words'

/** Who may open a share, and what they get, as it is said in the form. */
export interface Access {
  live: boolean
  who: 'link' | 'password' | 'people'
  password: string
  until: string
  rows: boolean
  made: boolean
}

export const OPEN_TO_ALL: Access = { live: false, who: 'link', password: '', until: '', rows: true, made: true }

/** The same as the server takes it. */
export const accessOf = (a: Access) => ({
  live: a.live,
  people_only: a.who === 'people',
  password: a.who === 'password' ? a.password : '',
  until: a.until ? new Date(`${a.until}T23:59:59`).toISOString() : undefined,
  keep_rows: !a.rows,
  keep_made: !a.made,
})

export const addressOf = (share: Pick<Share, 'key'>) => `${location.origin}/s/${share.key}`

/** Sharing something by a form: what came of it, or why it did not. */
export function useSharing(send: () => Promise<Share>) {
  const queries = useQueryClient()
  const [share, setShare] = useState<Share | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const submit = async (e: FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      setShare(await send())
      await queries.invalidateQueries({ queryKey: ['shares'] })
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  return { share, trouble, busy, submit }
}

/** Under the form: what is wrong, and the two ways out of it. */
export function ShareFoot({ trouble, busy, close }: { trouble: Refusal | null; busy: boolean; close: () => void }) {
  return (
    <>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <div className="sticky -bottom-6 -mb-6 flex justify-end gap-2 border-t border-line bg-strip py-3">
        <button type="button" className="button-plain" onClick={close}>
          Do not share
        </button>
        <button className="button-bright" disabled={busy}>
          Share
        </button>
      </div>
    </>
  )
}

/** What they see, who can open it, and what they get. */
export function AccessForm({ me, access, change, live }: { me: Me; access: Access; change: (access: Access) => void; live: string }) {
  const set = (part: Partial<Access>) => change({ ...access, ...part })
  const today = new Date().toISOString().slice(0, 10)
  return (
    <>
      <fieldset>
        <legend className="mb-2 font-semibold">What they see</legend>
        <div className="grid grid-cols-2 gap-3 max-[480px]:grid-cols-1">
          <Card chosen={!access.live} choose={() => set({ live: false })} name="Fixed copy" says="Stays as it is now" />
          <Card chosen={access.live} choose={() => set({ live: true })} name="Live" says={live} />
        </div>
      </fieldset>
      <fieldset>
        <legend className="mb-1.5 font-semibold">Who can open it</legend>
        <Choice name="who" chosen={access.who === 'link'} choose={() => set({ who: 'link' })}>
          Anybody with the link <span className="text-muted">· no account needed</span>
        </Choice>
        <Choice name="who" chosen={access.who === 'password'} choose={() => set({ who: 'password' })}>
          Anybody with the link and a password
        </Choice>
        {access.who === 'password' && (
          <input
            className="field mb-1 ml-6 max-w-64"
            type="text"
            autoComplete="off"
            aria-label="Password of the share"
            placeholder="at least 6 characters"
            value={access.password}
            required
            minLength={6}
            maxLength={200}
            onChange={(e) => set({ password: e.target.value })}
          />
        )}
        <Choice name="who" chosen={access.who === 'people'} choose={() => set({ who: 'people' })}>
          <span className="wrap-anywhere">People of {me.space}</span>
        </Choice>
        <p className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1">
          <label className="flex items-center gap-2">
            until
            <input className="field w-40" type="date" min={today} value={access.until} onChange={(e) => set({ until: e.target.value })} />
          </label>
          {access.until ? (
            <span className="text-muted">
              or{' '}
              <button type="button" className="link" onClick={() => set({ until: '' })}>
                with no end
              </button>
            </span>
          ) : (
            <span className="text-muted">with no end · can be withdrawn at any time</span>
          )}
        </p>
      </fieldset>
    </>
  )
}

function Card({ chosen, choose, name, says }: { chosen: boolean; choose: () => void; name: string; says: string }) {
  return (
    <label
      className={`flex cursor-pointer items-start gap-2.5 rounded-[10px] border px-3 py-2.5 ${chosen ? 'border-copper outline outline-copper' : 'border-line'}`}
    >
      <input type="radio" name="see" className="mt-1 accent-copper" checked={chosen} onChange={choose} />
      <span>
        <span className="block font-semibold">{name}</span>
        <span className="block text-[13px] text-muted">{says}</span>
      </span>
    </label>
  )
}

function Choice({ name, chosen, choose, children }: { name: string; chosen: boolean; choose: () => void; children: ReactNode }) {
  return (
    <label className="flex items-baseline gap-2 py-1">
      <input type="radio" name={name} className="accent-copper" checked={chosen} onChange={choose} />
      <span>{children}</span>
    </label>
  )
}

/** Of one chart: which columns go out, each of which can stay at home but for those that it is drawn by. */
export function Columns({
  name,
  columns,
  chosen,
  choose,
  rows,
}: {
  name?: string
  columns: GoesOut[]
  chosen: string[]
  choose: (columns: string[]) => void
  rows: { total: number; drawn: number; outside: number }
}) {
  const out = rows.drawn - rows.outside
  const home = rows.total - out
  return (
    <div className="mb-2">
      <p className="mb-1">
        {name && <strong className="font-semibold wrap-anywhere">{name}: </strong>}
        {counted(out, 'row')} {out === 1 ? 'goes' : 'go'} out
        {home > 0 && `; the other ${formatNumber(home, 0)} of the dataset ${home === 1 ? 'stays' : 'stay'} here`}. Of each row, readers get:
      </p>
      <ul className="flex flex-wrap gap-1.5">
        {columns.map((c) => {
          const on = chosen.includes(c.column)
          return (
            <li key={c.column}>
              <label
                className={`flex items-center gap-1.5 rounded-full border px-2.5 py-0.5 text-[13px] ${on ? 'border-verdigris bg-verdigris-wash' : 'border-line'}`}
              >
                <input
                  type="checkbox"
                  className="accent-verdigris"
                  checked={on}
                  disabled={c.drawn}
                  onChange={(e) => choose(e.target.checked ? [...chosen, c.column] : chosen.filter((name) => name !== c.column))}
                />
                {c.name}
                {(c.drawn || c.heads) && <span className="text-muted">{c.drawn ? 'drawn' : 'would head the card'}</span>}
              </label>
            </li>
          )
        })}
      </ul>
    </div>
  )
}

/** What else goes with it. */
export function Given({ access, change, children }: { access: Access; change: (access: Access) => void; children: ReactNode }) {
  return (
    <fieldset>
      <legend className="mb-1.5 font-semibold">What goes out</legend>
      {children}
      <p className="mb-2 text-[13px] text-muted">
        What is not ticked stands nowhere in what goes out: on no card, in no label, word or file. What a chart is drawn by goes with it; to
        keep that here, take its clause out of the sentence first.
      </p>
      <label className="flex items-baseline gap-2 py-1">
        <input
          type="checkbox"
          className="accent-copper"
          checked={access.rows}
          onChange={(e) => change({ ...access, rows: e.target.checked })}
        />
        <span>
          The rows as a file <span className="text-muted">· CSV and Parquet; without it they are read by hovering alone</span>
        </span>
      </label>
      <label className="flex items-baseline gap-2 py-1">
        <input
          type="checkbox"
          className="accent-copper"
          checked={access.made}
          onChange={(e) => change({ ...access, made: e.target.checked })}
        />
        <span>
          How this was made <span className="text-muted">· the sentence and the preparation</span>
        </span>
      </label>
    </fieldset>
  )
}

const LOOKS = ['light', 'dark', 'phone'] as const
type Look = (typeof LOOKS)[number]
/** How wide the page is laid out in the frame, and how large it stands there. */
const FRAMES: Record<Look, { width: number; theme: string }> = {
  light: { width: 1100, theme: 'light' },
  dark: { width: 1100, theme: 'dark' },
  phone: { width: 390, theme: 'light' },
}
const ROOM = 344
const HEIGHT = 420
const LOOK_AFTER = 600

/** What a reader will get, before it goes out: the page itself, in a frame. */
export function ReaderLook({ action, wanted }: { action: string; wanted: unknown }) {
  const [look, setLook] = useState<Look>('light')
  const form = useRef<HTMLFormElement>(null)
  const said = JSON.stringify(wanted)
  const { width, theme } = FRAMES[look]
  useEffect(() => {
    const timer = setTimeout(() => form.current?.submit(), LOOK_AFTER)
    return () => clearTimeout(timer)
  }, [said, theme, look])
  const scale = ROOM / width
  return (
    <section aria-label="What a reader gets">
      <form ref={form} method="post" action={inSpace(action)} target="lark-look" hidden>
        <input name="wanted" value={said} readOnly />
        <input name="theme" value={theme} readOnly />
      </form>
      <div className="overflow-hidden rounded-[10px] border border-line bg-paper" style={{ width: ROOM, height: HEIGHT }}>
        <iframe
          key={look}
          name="lark-look"
          title="What a reader gets"
          sandbox="allow-scripts"
          style={{ width, height: HEIGHT / scale, border: 0, transform: `scale(${scale})`, transformOrigin: '0 0' }}
        />
      </div>
      <p className="mt-1.5 flex justify-between text-[13px]">
        <span className="text-muted">as a reader gets it</span>
        <span className="flex gap-3">
          {LOOKS.map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={name === look}
              className={name === look ? 'min-h-6 text-ink' : 'link min-h-6'}
              onClick={() => setLook(name)}
            >
              {name}
            </button>
          ))}
        </span>
      </p>
    </section>
  )
}
