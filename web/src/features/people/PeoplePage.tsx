import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Me, type Member, type Refusal, type Role } from '../../api/client'
import { counted } from '../../scale/format'
import { wordLook } from '../../sentence/look'
import { may, ROLES } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { Trouble, Waiting } from '../../ui/Words'
import { Hooks } from './Hooks'
import { Keys } from './Keys'
import type { Change } from './change'
import { InviteCard, Invitations } from './Invitations'
import { PeopleTable } from './PeopleTable'
import { Beside } from './Beside'

/** Who is in the space, who is invited, how people sign in. */
export function PeoplePage({ me }: { me: Me }) {
  const queries = useQueryClient()
  const owns = may(me, 'owner')
  const people = useQuery({ queryKey: ['people'], queryFn: api.people, refetchInterval: 20_000 })
  const invitations = useQuery({ queryKey: ['invitations'], queryFn: api.invitations, enabled: owns, refetchInterval: 20_000 })
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [shown, setShown] = useState<Role | null>(null)
  const [inviting, setInviting] = useState(false)
  const change: Change = async (work) => {
    setTrouble(null)
    try {
      await work
      return true
    } catch (fault) {
      setTrouble(fault as Refusal)
      return false
    } finally {
      await queries.invalidateQueries()
    }
  }
  const list = people.data ?? []
  return (
    <Shell
      me={me}
      view="People"
      headed
      here={<span className="text-bar-ink">People</span>}
      action={
        owns && (
          <button type="button" className="button-bright" onClick={() => setInviting(true)}>
            Invite…
          </button>
        )
      }
    >
      <Strip me={me} people={list} waiting={invitations.data?.length ?? 0} shown={shown} show={setShown} />
      <div className="flex min-h-0 flex-1 max-[900px]:flex-col max-[900px]:overflow-auto">
        <main className="flex min-w-0 flex-1 flex-col gap-6 overflow-auto px-5.5 py-3 max-[900px]:overflow-visible">
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          {people.isPending ? (
            <Waiting what="Looking who is here" />
          ) : (
            <PeopleTable me={me} people={shown ? list.filter((one) => one.role === shown) : list} of={list.length} change={change} />
          )}
          {owns && (
            <section aria-label="Invitations that wait" className="flex flex-col gap-2">
              <h2 id="invitations" tabIndex={-1} className="font-serif text-lg font-semibold">
                Invitations that wait
              </h2>
              {inviting && <InviteCard close={() => setInviting(false)} change={change} />}
              <Invitations invitations={invitations.data ?? []} change={change} />
            </section>
          )}
          <Keys me={me} change={change} />
          {owns && <Hooks change={change} />}
        </main>
        <Beside me={me} people={list} change={change} />
      </div>
    </Shell>
  )
}

/** The sentence above: its words show those alone of whom they speak. */
function Strip({
  me,
  people,
  waiting,
  shown,
  show,
}: {
  me: Me
  people: Member[]
  waiting: number
  shown: Role | null
  show: (role: Role | null) => void
}) {
  const word = (text: string, on: boolean, press: () => void) => (
    <button type="button" className={`${wordLook()} ${on ? 'bg-copper-wash' : ''}`} aria-pressed={on} onClick={press}>
      {text}
    </button>
  )
  const some = [...ROLES]
    .reverse()
    .map((role) => ({ role, n: people.filter((one) => one.role === role).length }))
    .filter((one) => one.n > 0)
  return (
    <section aria-label="Who is here" className="shrink-0 border-b border-line bg-strip px-5.5 py-3.5">
      <h1 className="font-serif text-[23px] leading-8 wrap-anywhere">
        {me.space} is open to {word(counted(people.length, 'person', 'people'), false, () => show(null))}:{' '}
        {some.map(({ role, n }, i) => (
          <span key={role}>
            {i > 0 && (i === some.length - 1 ? ' and ' : ', ')}
            {word(counted(n, role), shown === role, () => show(shown === role ? null : role))}
          </span>
        ))}
        .{' '}
        {waiting > 0 && (
          <>
            {word(counted(waiting, 'invitation'), false, () => document.getElementById('invitations')?.focus())}{' '}
            {waiting === 1 ? 'waits' : 'wait'}.
          </>
        )}
      </h1>
    </section>
  )
}
