import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { api, type Me, type Member, type Role } from '../../api/client'
import { formatNumber } from '../../scale/format'
import { wordLook } from '../../sentence/look'
import { may, ROLES } from '../../ui/may'
import { moment } from '../../ui/moment'
import { PersonDisc } from '../../ui/PersonDisc'
import { ITEM, MENU } from '../../ui/menu'
import { announce } from '../../ui/title'
import type { Change } from './change'
import { over } from '../../ui/over'

/** How many people are shown before the rest is asked for. */
const SHOWN = 50
const CELL = 'px-3.5 py-1.5 h-[34px]'

export function PeopleTable({ me, people, of, change }: { me: Me; people: Member[]; of: number; change: Change }) {
  const [all, setAll] = useState(false)
  const owns = may(me, 'owner')
  const list = all ? people : people.slice(0, SHOWN)
  const owners = people.filter((one) => one.role === 'owner').length
  return (
    <div
      role="region"
      aria-label="People"
      tabIndex={0}
      className="relative shrink-0 overflow-x-auto rounded-xl border border-line bg-paper"
    >
      <table className="w-full text-left">
        <thead className="bg-strip text-[13px] text-muted">
          <tr>
            {['Person', ...(owns ? ['Email'] : []), 'here as', 'last here', ...(owns ? ['second factor', ''] : [])].map((head) => (
              <th key={head} scope="col" className={`px-3.5 py-1 font-normal ${head === 'Email' ? 'slim:hidden' : ''}`}>
                {head || <span className="sr-only">What can be done</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {list.map((person) => (
            <tr key={person.id} className="group border-t border-line hover:bg-strip">
              <td className={CELL}>
                <span className="flex items-center gap-2.5">
                  <PersonDisc name={person.name} id={person.id} size="size-5.5 text-[9px]" named={false} />
                  <span className="max-w-56 truncate font-medium" title={person.name}>
                    {person.name}
                  </span>
                </span>
              </td>
              {owns && (
                <td className={`${CELL} max-w-60 truncate text-[13px] text-muted slim:hidden`} title={person.email}>
                  {person.email}
                </td>
              )}
              <td className={CELL}>
                <RoleWord me={me} person={person} last={person.role === 'owner' && owners === 1} change={change} />
              </td>
              <td className={`${CELL} whitespace-nowrap`}>
                <LastHere me={me} person={person} />
              </td>
              {owns && (
                <>
                  <td className={`${CELL} whitespace-nowrap`}>
                    {person.has_factor ? 'yes' : person.asked_for ? 'no · asked for' : <span className="text-muted">no</span>}
                  </td>
                  <td className={`${CELL} text-right whitespace-nowrap`}>
                    <Ways me={me} person={person} change={change} />
                  </td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {people.length > list.length && (
        <button type="button" className="link m-3.5" onClick={() => setAll(true)}>
          {formatNumber(people.length - list.length, 0)} more people
        </button>
      )}
      {people.length < of && (
        <p className="border-t border-line px-3.5 py-2 text-[13px] text-muted">
          {formatNumber(of - people.length, 0)} others are not shown: press the number of people above.
        </p>
      )}
    </div>
  )
}

function LastHere({ me, person }: { me: Me; person: Member }) {
  if (person.now)
    return (
      <span className="flex items-center gap-2">
        <span aria-hidden className="size-[7px] rounded-full bg-verdigris" />
        now{person.id === me.id && ' (you)'}
      </span>
    )
  return <span className="text-muted">{person.last_here ? moment(person.last_here) : may(me, 'owner') ? 'not yet' : ''}</span>
}

/** What somebody is here as; an owner presses it to change it, at once. */
function RoleWord({ me, person, last, change }: { me: Me; person: Member; last: boolean; change: Change }) {
  if (!may(me, 'owner')) return <span>{person.role}</span>
  if (last) return <span title="A space needs an owner: make somebody else one first">{person.role}</span>
  const choose = async (role: Role) => {
    if (role === person.role) return
    if (person.id === me.id && !confirm(`You would be a ${role} here, and could not change that back yourself. Go on?`)) return
    if (await change(api.setRole(person.id, role))) announce(`${person.name} is a ${role} now`)
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className={wordLook(undefined, 'leading-[19px]')}
        aria-label={`${person.name} is here as ${person.role}. Press to change`}
      >
        {person.role}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content align="start" sideOffset={4} className={`${MENU} max-w-80`}>
          {[...ROLES].reverse().map((role) => (
            <DropdownMenu.Item key={role} className={ITEM} onSelect={() => void choose(role)}>
              <b className="font-semibold">{role}</b>
              {role === person.role && <span className="text-muted"> · now</span>}
              <span className="block text-[13px] text-muted">{me.roles.find((one) => one.role === role)?.means}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** What an owner can do with somebody, under the hand or the focus. */
function Ways({ me, person, change }: { me: Me; person: Member; change: Change }) {
  const [link, setLink] = useState('')
  if (person.id === me.id) return null
  const takeOut = async () => {
    if (!confirm(`Take ${person.name} out of ${me.space}? What they made stays, with their name.`)) return
    if (await change(api.takeOut(person.id))) announce(`${person.name} is taken out`)
  }
  const password = async () => {
    await change(
      api.passwordLink(person.id).then(async ({ path }) => {
        setLink(location.origin + path)
        await navigator.clipboard.writeText(location.origin + path)
        announce('Copied')
      }),
    )
  }
  return (
    <span
      className={`flex justify-end gap-3 ${link ? '' : 'opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 pointer-coarse:opacity-100'}`}
    >
      {link ? (
        <span className="max-w-64 truncate text-[13px]" title={link}>
          copied; send it to them: {link}
        </span>
      ) : (
        !person.elsewhere && (
          <button type="button" className="link" aria-label={`A link to a new password for ${person.name}`} onClick={() => void password()}>
            new password
          </button>
        )
      )}
      <button type="button" className="link" aria-label={`Take ${person.name} out`} onClick={() => void takeOut()}>
        take out
      </button>
    </span>
  )
}
