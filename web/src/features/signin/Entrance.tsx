import { useState, type FormEvent, type ReactNode } from 'react'
import { Refusal } from '../../api/client'
import lark from '../../app/lark.svg'
import { useTitle } from '../../ui/title'
import { Trouble } from '../../ui/Words'

/** The frame of what is seen before one is in: the bird, a title, and a card. */
export function Entrance({ title, children, below }: { title: string; children: ReactNode; below?: ReactNode }) {
  useTitle(title)
  return (
    <main className="mx-auto flex min-h-full max-w-md flex-col gap-5 px-6 pt-[12vh] pb-10">
      <p className="flex items-center gap-3 font-serif text-xl font-semibold">
        <img src={lark} alt="" width={34} height={34} />
        Copper Lark
      </p>
      <h1 className="font-serif text-2xl font-semibold text-balance wrap-anywhere">{title}</h1>
      {children}
      {below && <div className="text-muted">{below}</div>}
    </main>
  )
}

const CARD = 'flex flex-col gap-4 rounded-xl border border-line bg-strip p-6'

/** A form that is sent once at a time; what goes wrong stands above its button, and what was typed stays. */
export function Form({
  send,
  action,
  children,
  more,
}: {
  send: () => Promise<unknown>
  action: string
  children: ReactNode
  more?: ReactNode
}) {
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const submit = async (e: FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      await send()
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  return (
    <form onSubmit={submit} className={CARD}>
      {children}
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <div className="flex flex-wrap items-center gap-4">
        <button className="button-bright" disabled={busy}>
          {action}
        </button>
        {more}
      </div>
    </form>
  )
}

/** Closes a form that one opened, and leaves all as it is. */
export const NotNow = ({ press }: { press: () => void }) => (
  <button type="button" className="link" onClick={press}>
    Not now
  </button>
)

type Kind = 'email' | 'address' | 'text' | 'old password' | 'new password' | 'code'

const KINDS: Record<Kind, { type: string; autoComplete: string; inputMode?: 'numeric' }> = {
  email: { type: 'email', autoComplete: 'username' },
  address: { type: 'url', autoComplete: 'url' },
  text: { type: 'text', autoComplete: 'name' },
  'old password': { type: 'password', autoComplete: 'current-password' },
  'new password': { type: 'password', autoComplete: 'new-password' },
  code: { type: 'text', autoComplete: 'one-time-code' },
}

/** A field with its name; a password can be looked at. */
export function Field({
  name,
  kind,
  value,
  set,
  hint,
  optional = false,
  first = false,
}: {
  name: string
  kind: Kind
  value: string
  set: (value: string) => void
  hint?: string
  optional?: boolean
  first?: boolean
}) {
  const [shown, show] = useState(false)
  const { type, ...how } = KINDS[kind]
  return (
    <div className="flex flex-col gap-1.5">
      <label className="flex flex-col gap-1.5">
        {name}
        <input
          className="field"
          type={shown ? 'text' : type}
          required={!optional}
          autoFocus={first}
          spellCheck={false}
          autoCapitalize={kind === 'text' ? 'words' : 'none'}
          value={value}
          onChange={(e) => set(e.target.value)}
          {...how}
        />
      </label>
      {(hint || type === 'password') && (
        <p className="flex justify-between gap-3 text-[13px] text-muted">
          <span>{hint}</span>
          {type === 'password' && (
            <button type="button" className="link" aria-pressed={shown} onClick={() => show(!shown)}>
              {shown ? 'Hide it' : 'Show it'}
            </button>
          )}
        </p>
      )}
    </div>
  )
}

/** A code of the second factor. */
export const CodeField = ({ value, set }: { value: string; set: (value: string) => void }) => (
  <Field name="Code" kind="code" value={value} set={set} hint="The six digits that your device shows, or a recovery code" first />
)
