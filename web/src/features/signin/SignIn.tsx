import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, Refusal } from '../../api/client'
import { passkeysWork, signInByPasskey } from '../../api/passkeys'
import { Trouble } from '../../ui/Words'
import { CodeField, Entrance, Field, Form } from './Entrance'

/** Where somebody goes on who has come in: where they wanted to be. */
export const goOn = () => location.reload()

export function SignIn() {
  const ways = useQuery({ queryKey: ['ways'], queryFn: api.ways })
  const [forgot, setForgot] = useState(false)
  if (forgot) return <Forgotten post={ways.data?.post ?? false} back={() => setForgot(false)} />
  return (
    <Entrance title="Sign in" below="Who has no account here is invited by an owner of a space.">
      <ByPassword forgot={() => setForgot(true)} />
      <OtherWays organisation={ways.data?.organisation} />
    </Entrance>
  )
}

/** By address and password, and by a code where there is a second factor. */
export function ByPassword({ forgot }: { forgot?: () => void }) {
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const [code, setCode] = useState('')
  const [asksCode, setAsksCode] = useState(false)
  const send = async () => {
    try {
      await api.signIn(email, password, code)
      goOn()
    } catch (fault) {
      if (fault instanceof Refusal && fault.code === 'code' && !asksCode) setAsksCode(true)
      else throw fault
    }
  }
  return (
    <Form
      key={String(asksCode)}
      send={send}
      action="Sign in"
      more={
        forgot && (
          <button type="button" className="link" onClick={forgot}>
            Forgot the password?
          </button>
        )
      }
    >
      {asksCode ? (
        <>
          <p role="status">The password is right. One thing more, {email}:</p>
          <CodeField value={code} set={setCode} />
        </>
      ) : (
        <>
          <Field name="Email address" kind="email" value={email} set={setEmail} />
          <Field name="Password" kind="old password" value={password} set={setPassword} />
        </>
      )}
    </Form>
  )
}

function OtherWays({ organisation }: { organisation?: string }) {
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const byPasskey = async () => {
    setTrouble(null)
    try {
      await signInByPasskey()
      goOn()
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  if (!organisation && !passkeysWork()) return null
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap gap-3">
        {passkeysWork() && (
          <button type="button" className="button-plain" onClick={byPasskey}>
            With a passkey
          </button>
        )}
        {organisation && (
          <a className="button-plain" href={`/organisation?back=${encodeURIComponent(location.pathname + location.search)}`}>
            Through {organisation}
          </a>
        )}
      </div>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
    </div>
  )
}

function Forgotten({ post, back }: { post: boolean; back: () => void }) {
  const [email, setEmail] = useState('')
  const [asked, setAsked] = useState(false)
  const again = (
    <button type="button" className="link" onClick={back}>
      Back to signing in
    </button>
  )
  if (!post)
    return (
      <Entrance title="A new password" below={again}>
        <p className="font-serif text-lg">
          This server sends no e-mail. Ask an owner of your space: under People, beside your name, they make a link that leads you to a new
          password.
        </p>
      </Entrance>
    )
  if (asked)
    return (
      <Entrance title="Look into your e-mail" below={again}>
        <p className="font-serif text-lg" role="status">
          If {email} is known here, a letter is on its way with a link to a new password. It works once, within twelve hours.
        </p>
      </Entrance>
    )
  return (
    <Entrance title="A new password" below={again}>
      <Form send={async () => (await api.forgotten(email), setAsked(true))} action="Send me a link">
        <Field name="Email address" kind="email" value={email} set={setEmail} first />
      </Form>
    </Entrance>
  )
}
