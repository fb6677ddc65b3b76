import { useQuery } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Me, type Member, type Role } from '../../api/client'
import { wordLook } from '../../sentence/look'
import { inSpace } from '../../api/space'
import { may } from '../../ui/may'
import { ITEM, MENU } from '../../ui/menu'
import { moment } from '../../ui/moment'
import { Renaming } from '../chart/ChartName'
import { Trouble } from '../../ui/Words'
import type { Change } from './change'
import { over } from '../../ui/over'

/** Of whom a second factor is asked, in words. */
const ASKED: [string, Role[]][] = [
  ['nobody', []],
  ['owners', ['owner']],
  ['owners and makers', ['owner', 'maker']],
  ['everybody', ['owner', 'maker', 'reader']],
]
const same = (a: string[], b: string[]) => a.length === b.length && a.every((one) => b.includes(one))

/** How people sign in, what the words mean, and what becomes of the space. */
export function Beside({ me, people, change }: { me: Me; people: Member[]; change: Change }) {
  const ways = useQuery({ queryKey: ['ways'], queryFn: api.ways })
  const lacking = people.filter((one) => one.asked_for && !one.has_factor)
  return (
    <aside
      aria-label="How people sign in"
      className="w-[344px] shrink-0 overflow-auto border-l border-line bg-strip px-5 py-4 max-[900px]:w-full max-[900px]:border-t max-[900px]:border-l-0"
    >
      <h2 className="mb-2 font-serif text-lg font-semibold">How people sign in</h2>
      <div className="flex flex-col gap-2 font-serif text-base leading-[27px]">
        <p>
          People sign in with a password of at least {ways.data?.least_letters ?? 12} letters, or with a passkey
          {ways.data?.organisation && (
            <>
              , or through <b className="font-semibold">{ways.data.organisation}</b>
            </>
          )}
          .
        </p>
        <p>
          A second factor is asked of <Asked me={me} change={change} />.
        </p>
        <p>After 14 days away they sign in again.</p>
        {!ways.data?.organisation && may(me, 'owner') && (
          <p className="font-sans text-[13px] leading-5 text-muted">
            To let people in through an organisation of yours, whoever runs this server sets LARK_OIDC_ISSUER.
          </p>
        )}
      </div>
      {lacking.length > 0 && may(me, 'owner') && (
        <p className="mt-3 border-l-3 border-copper pl-3 text-[13px]">
          {lacking.length === 1
            ? `${lacking[0].name} has no second factor yet, and is asked for it at the next visit.`
            : `${lacking.length} people have no second factor yet, and are asked for it at their next visit.`}
        </p>
      )}
      <hr className="my-5 border-line" />
      <h2 className="mb-2 font-serif text-lg font-semibold">What the words mean</h2>
      <dl className="grid grid-cols-[58px_1fr] gap-y-2 text-[13px]">
        {me.roles.map((one) => (
          <div key={one.role} className="contents">
            <dt className="font-semibold">{one.role}</dt>
            <dd className="text-muted">
              {one.role === 'owner' && may(me, 'owner') ? (
                <>
                  all of that, and invites, takes out, and sees{' '}
                  <Link className="link" to="/audit">
                    what was done here
                  </Link>
                </>
              ) : (
                one.means
              )}
            </dd>
          </div>
        ))}
      </dl>
      <hr className="my-5 border-line" />
      <TheSpace me={me} change={change} />
    </aside>
  )
}

function Asked({ me, change }: { me: Me; change: Change }) {
  const said = ASKED.find(([, roles]) => same(roles, me.factor_of))?.[0] ?? me.factor_of.join(', ')
  if (!may(me, 'owner')) return <span>{said}</span>
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className={`${wordLook()} text-[length:inherit]`}
        aria-label={`A second factor is asked of ${said}. Press to change`}
      >
        {said}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content align="start" sideOffset={4} className={MENU}>
          {ASKED.map(([name, roles]) => (
            <DropdownMenu.Item key={name} className={ITEM} onSelect={() => void change(api.changeSpace({ factor_of: roles }))}>
              {name}
              {name === said && <span className="text-muted"> · now</span>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** The space itself: its name, its end, leaving it. */
function TheSpace({ me, change }: { me: Me; change: Change }) {
  const [leaving, setLeaving] = useState<Error | null>(null)
  const owns = may(me, 'owner')
  const leave = async () => {
    if (!confirm(`Leave ${me.space}? What you made stays, with your name. To come back you need an invitation.`)) return
    try {
      await api.leaveSpace()
      location.assign('/')
    } catch (fault) {
      setLeaving(fault as Error)
    }
  }
  const end = () => {
    if (confirm(`Delete ${me.space} with all its data, charts and shared charts? It is done in a week; until then any owner can keep it.`))
      void change(api.changeSpace({ leaves: true }))
  }
  return (
    <section aria-label="The space">
      <h2 className="mb-2 font-serif text-lg font-semibold">The space</h2>
      <div className="flex flex-col items-start gap-2 text-[13px]">
        {owns && (
          <p className="flex max-w-full min-w-0 items-baseline gap-1.5">
            It is called
            <Renaming
              label="Name of the space"
              name={me.space}
              rename={async (name) => {
                if (!(await change(api.changeSpace({ name })))) throw new Error('it stays as it was')
              }}
            />
          </p>
        )}
        {me.leaves_at && (
          <p role="status" className="border-l-3 border-copper pl-3">
            It is deleted {moment(me.leaves_at)}, with everything in it.{' '}
            {owns && (
              <button type="button" className="link" onClick={() => void change(api.changeSpace({ leaves: false }))}>
                Keep it
              </button>
            )}
          </p>
        )}
        {owns && (
          <a className="link" href={inSpace('/api/space/file')} download>
            Take it as a file
          </a>
        )}
        <button type="button" className="link" onClick={() => void leave()}>
          Leave it
        </button>
        {owns && !me.leaves_at && (
          <button type="button" className="link" onClick={end}>
            Delete it in a week
          </button>
        )}
        {leaving && <Trouble message={leaving.message} />}
      </div>
    </section>
  )
}
