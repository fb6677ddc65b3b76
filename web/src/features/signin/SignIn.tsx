import { useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, Refusal } from '../../api/client'
import lark from '../../app/lark.svg'
import { Trouble } from '../../ui/Words'

export function SignIn() {
  const queries = useQueryClient()
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const submit = async (e: FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      await api.signIn(email, password)
      await queries.resetQueries()
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  return (
    <main className="mx-auto flex max-w-sm flex-col gap-5 px-6 pt-[16vh]">
      <h1 className="flex items-center gap-3 font-serif text-2xl font-semibold">
        <img src={lark} alt="" width={34} height={34} />
        Copper Lark
      </h1>
      <form onSubmit={submit} className="flex flex-col gap-4 rounded-xl border border-line bg-strip p-6">
        <label className="flex flex-col gap-1.5">
          Email address
          <input className="field" type="email" autoComplete="username" required value={email} onChange={(e) => setEmail(e.target.value)} />
        </label>
        <label className="flex flex-col gap-1.5">
          Password
          <input
            className="field"
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </label>
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        <button className="button-bright" disabled={busy}>
          Sign in
        </button>
      </form>
      <p className="text-muted">The program prints a link when it starts that signs you in to the demo once.</p>
    </main>
  )
}
