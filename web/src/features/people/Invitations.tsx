import { useState } from 'react'
import { api, type Invitation, type Role } from '../../api/client'
import { Field, Form, NotNow } from '../signin/Entrance'
import { moment } from '../../ui/moment'
import { announce } from '../../ui/title'
import { ROLES } from '../../ui/may'
import type { Change } from './change'

export const addressOf = (invitation: Invitation) => `${location.origin}/invited/${invitation.key}`

const DAYS: [number, string][] = [
  [1, 'tomorrow'],
  [7, 'a week from now'],
  [30, 'a month from now'],
]

/** A new invitation: as whom, until when, for whom. */
export function InviteCard({ close, change }: { close: () => void; change: Change }) {
  const [role, setRole] = useState<Role>('maker')
  const [email, setEmail] = useState('')
  const [days, setDays] = useState(7)
  const [uses, setUses] = useState(1)
  const send = async () => {
    const made = await api.invite({ role, email: email.trim(), days, uses })
    await navigator.clipboard.writeText(addressOf(made)).then(
      () => announce('The link is copied'),
      () => {}, // it can be copied from the list
    )
    await change(Promise.resolve())
    close()
  }
  return (
    <Form send={send} action="Make the link" more={<NotNow press={close} />}>
      <p className="flex flex-wrap items-baseline gap-x-2 gap-y-3 font-serif text-[17px]">
        <label className="flex items-baseline gap-2">
          Whoever has the link becomes a
          <select className="field w-auto font-sans" value={role} onChange={(e) => setRole(e.target.value as Role)}>
            {ROLES.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        <label className="flex items-baseline gap-2">
          It works until
          <select className="field w-auto font-sans" value={days} onChange={(e) => setDays(Number(e.target.value))}>
            {DAYS.map(([n, name]) => (
              <option key={n} value={n}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-baseline gap-2">
          and for at most
          <input
            className="field w-20 font-sans"
            type="number"
            min={1}
            max={500}
            disabled={email !== ''}
            value={email ? 1 : uses}
            onChange={(e) => setUses(Math.max(1, Math.min(500, Math.round(Number(e.target.value)) || 1)))}
          />
          {uses === 1 || email ? 'person.' : 'people.'}
        </label>
      </p>
      <Field name="Only for this address" kind="email" value={email} set={setEmail} hint="Empty: anybody with the link" optional first />
    </Form>
  )
}

export function Invitations({ invitations, change }: { invitations: Invitation[]; change: Change }) {
  const [copied, setCopied] = useState(0)
  if (invitations.length === 0) return <p className="text-muted">None. Press Invite above.</p>
  const copy = async (invitation: Invitation) => {
    await navigator.clipboard.writeText(addressOf(invitation))
    setCopied(invitation.id)
    announce('Copied')
  }
  return (
    <ul className="divide-y divide-line rounded-xl border border-line bg-paper">
      {invitations.map((one) => {
        const whom = one.email || 'anybody with the link'
        return (
          <li key={one.id} className="flex flex-wrap items-baseline gap-x-6 gap-y-1 px-3.5 py-2">
            <span className="min-w-72 flex-1">
              <b className="font-semibold wrap-anywhere">{whom}</b> becomes a {one.role}
            </span>
            <span className="max-w-56 truncate text-[13px] text-muted" title={addressOf(one)}>
              {addressOf(one).replace(/^https?:\/\//, '')}
            </span>
            <span className="text-[13px] text-muted tabular-nums">
              until {moment(one.expires_at)}
              {one.most_uses > 1 && `, used ${one.uses} of ${one.most_uses}`}
            </span>
            <span className="flex gap-4">
              <button type="button" className="link" aria-label={`Copy the link for ${whom}`} onClick={() => void copy(one)}>
                {copied === one.id ? 'copied' : 'copy'}
              </button>
              <button
                type="button"
                className="link"
                aria-label={`Take back the invitation of ${whom}`}
                onClick={() => void change(api.takeBack(one.id)).then((done) => done && announce('Taken back'))}
              >
                take back
              </button>
            </span>
          </li>
        )
      })}
    </ul>
  )
}
