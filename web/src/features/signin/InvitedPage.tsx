import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useParams } from 'react-router'
import { api, Refusal, type Me } from '../../api/client'
import { Waiting } from '../../ui/Words'
import { Entrance, Field, Form } from './Entrance'
import { PASSWORD } from './NewPasswordPage'
import { ByPassword } from './SignIn'

/** Where the link of an invitation leads: into a space, as who one is or as somebody new. */
export function InvitedPage() {
  const { key } = useParams()
  const invited = useQuery({ queryKey: ['invited', key], queryFn: () => api.invited(key!), retry: false })
  const me = useQuery({
    queryKey: ['me'],
    queryFn: () => api.me().catch((fault) => (fault instanceof Refusal && fault.status === 401 ? null : Promise.reject(fault))),
  })
  const [known, setKnown] = useState(false)
  if (invited.isPending || me.isPending) return <Waiting what="Looking at the invitation" />
  if (invited.error)
    return (
      <Entrance title="This invitation leads nowhere any more">
        <p className="font-serif text-lg">
          {invited.error instanceof Refusal && invited.error.status === 410
            ? 'It was used up, taken back, or is too old. Ask whoever sent it for a new one.'
            : invited.error.message}
        </p>
      </Entrance>
    )
  const { space, role, by, email, place, member } = invited.data
  const title = `You are invited to ${space}`
  const asked = `${by || 'An owner'} invites ${email || 'you'} as a ${role}.`
  if (member)
    return (
      <Entrance title={`You are in ${space} already`}>
        <a className="link font-serif text-lg wrap-anywhere" href={place}>
          Open {space}
        </a>
      </Entrance>
    )
  if (me.data) return <AsMyself me={me.data} title={title} asked={asked} invitation={key!} />
  return (
    <Entrance
      title={title}
      below={
        <button type="button" className="link" onClick={() => setKnown(!known)}>
          {known ? 'I am new here' : 'I have an account here already'}
        </button>
      }
    >
      <p className="font-serif text-lg">{asked}</p>
      {known ? <ByPassword /> : <AsNew invitation={key!} email={email} space={space} />}
    </Entrance>
  )
}

function AsMyself({ me, title, asked, invitation }: { me: Me; title: string; asked: string; invitation: string }) {
  const send = async () => location.assign((await api.join(invitation)).place || '/')
  return (
    <Entrance title={title} below="Your other spaces stay as they are; you change between them above.">
      <p className="font-serif text-lg">{asked}</p>
      <Form send={send} action="Come in">
        <p>
          You are signed in as {me.name} ({me.email}).
        </p>
      </Form>
    </Entrance>
  )
}

function AsNew({ invitation, email: given = '', space }: { invitation: string; email?: string; space: string }) {
  const [email, setEmail] = useState(given)
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const send = async () => location.assign((await api.joinAnew(invitation, { email, name, password })).place || '/')
  return (
    <Form send={send} action={`Come into ${space}`}>
      <Field name="Your name" kind="text" value={name} set={setName} first />
      <Field name="Email address" kind="email" value={email} set={setEmail} />
      <Field name="Password" kind="new password" value={password} set={setPassword} hint={PASSWORD} />
    </Form>
  )
}
