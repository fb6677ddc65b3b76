import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState, type ReactNode } from 'react'
import { api, Refusal, type Factors, type Me } from '../../api/client'
import { Shell } from '../../ui/Shell'
import { moment } from '../../ui/moment'
import { announce } from '../../ui/title'
import { Trouble, Waiting } from '../../ui/Words'
import { Field, Form } from '../signin/Entrance'
import { PASSWORD } from '../signin/NewPasswordPage'
import { MakeSpace } from './MakeSpace'
import { SecondFactor } from './SecondFactor'

/** What is one's own: name, password, second factor, passkeys, places where one is signed in, spaces. */
export function AccountPage({ me }: { me: Me }) {
  const factors = useQuery({ queryKey: ['factors'], queryFn: api.factors })
  return (
    <Shell me={me} view="Account" headed>
      <main className="flex-1 overflow-auto px-6 py-6">
        <div className="mx-auto flex max-w-3xl flex-col gap-8">
          <h1 className="font-serif text-xl font-semibold">Your account</h1>
          <Name me={me} />
          {me.letters !== undefined && <Letters wants={me.letters} />}
          {factors.data && <Password has={factors.data.password} />}
          {factors.data ? <Factor factors={factors.data} /> : <Waiting what="Looking" />}
          <Sessions />
          <Spaces me={me} />
        </div>
      </main>
    </Shell>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col gap-3">
      <h2 className="font-serif text-lg font-semibold">{title}</h2>
      {children}
    </section>
  )
}

function Name({ me }: { me: Me }) {
  const queries = useQueryClient()
  const [name, setName] = useState(me.name)
  const send = async () => {
    await api.rename(name)
    await queries.invalidateQueries({ queryKey: ['me'] })
    announce('Your name is changed')
  }
  return (
    <Part title="Name">
      <Form send={send} action="Keep">
        <Field name="Your name, as others see it" kind="text" value={name} set={setName} hint={`You sign in as ${me.email}`} />
      </Form>
    </Part>
  )
}

/** Whether one is written to about notes, where e-mail is set. */
function Letters({ wants }: { wants: boolean }) {
  const queries = useQueryClient()
  const change = async (on: boolean) => {
    await api.wantLetters(on)
    await queries.invalidateQueries({ queryKey: ['me'] })
    announce(on ? 'You get letters about notes' : 'You get no letters about notes')
  }
  return (
    <Part title="Letters">
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={wants} onChange={(e) => void change(e.target.checked)} />
        One letter a day at most, of notes that name you or are on what you made, and that you have not seen
      </label>
    </Part>
  )
}

function Password({ has }: { has: boolean }) {
  const queries = useQueryClient()
  const [old, setOld] = useState('')
  const [wanted, setWanted] = useState('')
  const [kept, setKept] = useState(false)
  const send = async () => {
    setKept(false)
    await api.changePassword(old, wanted)
    setOld('')
    setWanted('')
    setKept(true)
    await queries.invalidateQueries()
  }
  return (
    <Part title="Password">
      <Form
        send={send}
        action={has ? 'Change it' : 'Keep it'}
        more={<span role="status">{kept && 'It is changed. You are signed out everywhere else.'}</span>}
      >
        {has ? (
          <Field name="The password now" kind="old password" value={old} set={setOld} />
        ) : (
          <p className="text-muted">You have none: you came in by a link, or through your organisation.</p>
        )}
        <Field name="The new one" kind="new password" value={wanted} set={setWanted} hint={PASSWORD} />
      </Form>
    </Part>
  )
}

function Factor({ factors }: { factors: Factors }) {
  const queries = useQueryClient()
  const again = () => void queries.invalidateQueries()
  return (
    <Part title="Second factor">
      <p>
        {factors.codes
          ? `A device makes codes for you; ${factors.recovery} recovery ${factors.recovery === 1 ? 'code is' : 'codes are'} left.`
          : 'No device makes codes for you.'}{' '}
        {factors.passkeys.length === 0 && 'You have no passkey.'}
      </p>
      {factors.passkeys.length > 0 && (
        <ul className="divide-y divide-line rounded-xl border border-line bg-paper">
          {factors.passkeys.map((passkey) => (
            <PasskeyRow key={passkey.id} passkey={passkey} password={factors.password} dropped={again} />
          ))}
        </ul>
      )}
      <SecondFactor factors={factors} done={again} />
    </Part>
  )
}

function PasskeyRow({
  passkey,
  password: asks,
  dropped,
}: {
  passkey: Factors['passkeys'][number]
  password: boolean
  dropped: () => void
}) {
  const [sure, setSure] = useState(false)
  const [password, setPassword] = useState('')
  return (
    <li className="px-4 py-2">
      <div className="flex items-baseline gap-4">
        <span className="font-semibold">Passkey, made with {passkey.name}</span>
        <span className="text-[13px] text-muted">
          {moment(passkey.created_at)}
          {passkey.used_at ? `, used ${moment(passkey.used_at)}` : ', not used yet'}
        </span>
        <button type="button" className="link ml-auto" aria-expanded={sure} onClick={() => setSure(!sure)}>
          Take away
        </button>
      </div>
      {sure && (
        <div className="mt-2">
          <Form send={async () => (await api.dropPasskey(passkey.id, password), dropped())} action="Take it away">
            {asks ? (
              <Field name="Your password, once more" kind="old password" value={password} set={setPassword} first />
            ) : (
              <p>Your device keeps its half; it no longer opens anything here.</p>
            )}
          </Form>
        </div>
      )}
    </li>
  )
}

function Sessions() {
  const queries = useQueryClient()
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: api.sessions })
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const end = async (id: number) => {
    setTrouble(null)
    try {
      await api.endSession(id)
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
    await queries.invalidateQueries({ queryKey: ['sessions'] })
  }
  return (
    <Part title="Where you are signed in">
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <ul className="divide-y divide-line rounded-xl border border-line bg-paper">
        {sessions.data?.map((session) => (
          <li key={session.id} className="flex flex-wrap items-baseline gap-x-4 px-4 py-2">
            <span className="font-semibold">{session.device || 'an unknown device'}</span>
            <span className="text-[13px] text-muted tabular-nums">
              {session.address || 'the server itself'} · since {moment(session.began)} ·{' '}
              {session.this ? 'here, now' : `seen ${moment(session.seen)}`}
              {session.strong && ' · with a second factor'}
            </span>
            {!session.this && (
              <button type="button" className="link ml-auto" aria-label={`Sign out ${session.device}`} onClick={() => end(session.id)}>
                Sign out
              </button>
            )}
          </li>
        ))}
      </ul>
      <p className="text-[13px] text-muted">After 14 days away one signs in again, and after 30 days in any case.</p>
    </Part>
  )
}

function Spaces({ me }: { me: Me }) {
  return (
    <Part title="Your spaces">
      <ul className="divide-y divide-line rounded-xl border border-line bg-paper">
        {me.spaces.map((space) => (
          <li key={space.id} className="flex items-baseline gap-4 px-4 py-2">
            <a className="link min-w-0 wrap-anywhere" href={space.address}>
              {space.name}
            </a>
            <span className="text-[13px] text-muted">{space.role}</span>
          </li>
        ))}
        {me.spaces.length === 0 && <li className="px-4 py-2 text-muted">You are in none. An owner can invite you.</li>}
      </ul>
      <MakeSpace label="A new space" />
      <BringSpace />
    </Part>
  )
}

/** A space that was taken out as a file, here or elsewhere, becomes one of one's own. */
function BringSpace() {
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [reading, setReading] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const bring = async (file: File | undefined) => {
    if (!file) return
    setTrouble(null)
    setReading(true)
    try {
      location.assign((await api.bringSpace(file)).address)
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setReading(false)
    }
  }
  return (
    <div className="flex flex-col items-start gap-2">
      <button type="button" className="link" disabled={reading} onClick={() => picker.current?.click()}>
        {reading ? 'Reading it…' : 'Make a space of a file that one was taken out as…'}
      </button>
      <input
        ref={picker}
        type="file"
        className="hidden"
        aria-label="File with a space"
        accept=".zip"
        onChange={(e) => {
          void bring(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
    </div>
  )
}
