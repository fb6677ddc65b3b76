import { useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, type Me, type Refusal } from '../../api/client'
import { useMakes } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { Trouble } from '../../ui/Words'

/** Makes a copy of what somebody shared, in the space that one is in. */
export function CopyPage({ me }: { me: Me }) {
  const key = useParams().share!
  const makes = useMakes()
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [password, setPassword] = useState('')
  const [locked, setLocked] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [busy, setBusy] = useState(false)
  const copy = async (e: FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      const made = await api.copyShared(key, password)
      await queries.invalidateQueries()
      navigate(made.page_id ? `/page/${made.page_id}` : `/dataset/${made.dataset_id}/chart/${made.chart_id}`)
    } catch (fault) {
      const refusal = fault as Refusal
      setTrouble(refusal)
      setLocked(locked || refusal.message.includes('password'))
      setBusy(false)
    }
  }
  return (
    <Shell me={me} view="A copy" headed>
      <main className="flex-1 overflow-auto px-6 py-6">
        <form onSubmit={copy} className="mx-auto flex max-w-xl flex-col items-start gap-4">
          <h1 className="font-serif text-xl font-semibold">A copy of what was shared</h1>
          <p className="wrap-anywhere font-serif text-base">
            Its rows become a dataset of {me.space}, its charts become charts, and a page a page: yours to change. What was shared stays as
            it is.
          </p>
          {locked && (
            <label className="flex w-full max-w-80 flex-col gap-1.5">
              Password of the share
              <input className="field" type="text" autoComplete="off" value={password} onChange={(e) => setPassword(e.target.value)} />
            </label>
          )}
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          {makes ? (
            <button className="button-bright" disabled={busy}>
              Make the copy
            </button>
          ) : (
            <p className="text-muted">You read in this space: makers of it can copy here. Change the space above, or ask an owner.</p>
          )}
        </form>
      </main>
    </Shell>
  )
}
