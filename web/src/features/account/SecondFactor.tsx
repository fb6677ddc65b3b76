import { useState } from 'react'
import { api, type Factors } from '../../api/client'
import { makePasskey, passkeysWork } from '../../api/passkeys'
import { Field, Form, NotNow } from '../signin/Entrance'

interface Wanted {
  secret: string
  address: string
  picture: string
}

/** Setting up codes of a device and passkeys, and taking them away. Done is called when something has changed and was seen. */
export function SecondFactor({ factors, done }: { factors: Factors; done: () => void }) {
  const [doing, setDoing] = useState<'' | 'codes' | 'passkey' | 'drop'>('')
  const [password, setPassword] = useState('')
  const [code, setCode] = useState('')
  const [wanted, setWanted] = useState<Wanted | null>(null)
  const [recovery, setRecovery] = useState<string[] | null>(null)
  const over = () => {
    setDoing('')
    setPassword('')
    setCode('')
    setWanted(null)
    setRecovery(null)
    done()
  }
  const cancel = <NotNow press={() => (setDoing(''), setPassword(''), setWanted(null))} />
  const proof = factors.password && <Field name="Your password, once more" kind="old password" value={password} set={setPassword} first />
  if (recovery) return <RecoveryCodes codes={recovery} kept={over} />
  if (wanted)
    return (
      <Form send={async () => setRecovery(await api.confirmFactor(code))} action="Confirm" more={cancel}>
        <p>Take a picture of this with a program on your device that makes codes, or type the secret into it.</p>
        <img src={wanted.picture} alt="The secret as squares" width={220} height={220} className="self-center rounded bg-white p-2" />
        <p className="text-center font-mono text-[13px] break-all select-all">{wanted.secret.match(/.{1,4}/g)!.join(' ')}</p>
        <Field name="The code that it shows now" kind="code" value={code} set={setCode} first />
      </Form>
    )
  if (doing === 'codes')
    return (
      <Form send={async () => setWanted(await api.beginFactor(password))} action="Go on" more={cancel}>
        {proof || <p>A program on your device will show a new code every half minute.</p>}
      </Form>
    )
  if (doing === 'passkey')
    return (
      <Form send={async () => (await makePasskey(password), over())} action="Make it" more={cancel}>
        {proof || <p>Your device keeps the key and asks for your finger, face or number.</p>}
      </Form>
    )
  if (doing === 'drop')
    return (
      <Form send={async () => (await api.dropFactor(password, code), over())} action="Take it away" more={cancel}>
        {proof}
        <Field name="A code of it, or a recovery code" kind="code" value={code} set={setCode} />
      </Form>
    )
  return (
    <div className="flex flex-wrap gap-3">
      {factors.codes ? (
        <button type="button" className="button-plain" onClick={() => setDoing('drop')}>
          Take the codes away…
        </button>
      ) : (
        <button type="button" className="button-plain" onClick={() => setDoing('codes')}>
          Set up codes…
        </button>
      )}
      {passkeysWork() ? (
        <button type="button" className="button-plain" onClick={() => setDoing('passkey')}>
          Make a passkey…
        </button>
      ) : (
        <p className="self-center text-[13px] text-muted">Passkeys need a secure address, and a browser that knows them.</p>
      )}
    </div>
  )
}

function RecoveryCodes({ codes, kept }: { codes: string[]; kept: () => void }) {
  const [copied, setCopied] = useState(false)
  return (
    <section aria-label="Recovery codes" className="flex flex-col gap-3 rounded-xl border-2 border-copper bg-paper p-5">
      <p>
        <b className="font-semibold">It is set up.</b> These codes let you in, each once, when the device is lost. This is the only time
        they are shown; keep them now.
      </p>
      <ul className="grid grid-cols-2 gap-x-6 gap-y-1 font-mono text-[13px] select-all">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <div className="flex gap-3">
        <button
          type="button"
          className="button-plain"
          onClick={async () => (await navigator.clipboard.writeText(codes.join('\n')), setCopied(true))}
        >
          {copied ? 'Copied' : 'Copy'}
        </button>
        <button type="button" className="button-bright" onClick={kept}>
          I have kept them
        </button>
      </div>
    </section>
  )
}
