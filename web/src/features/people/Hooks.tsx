import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type HookCall } from '../../api/client'
import { counted } from '../../scale/format'
import { moment } from '../../ui/moment'
import { announce } from '../../ui/title'
import { Field, Form, NotNow } from '../signin/Entrance'
import type { Change } from './change'

/** Other programs that are called when a dataset has a new version. */
export function Hooks({ change }: { change: Change }) {
  const hooks = useQuery({ queryKey: ['hooks'], queryFn: api.hooks })
  const calls = useQuery({ queryKey: ['hook calls'], queryFn: api.hookCalls, refetchInterval: 20_000 })
  const [naming, setNaming] = useState(false)
  const [made, setMade] = useState<{ address: string; secret: string } | null>(null)
  const list = hooks.data ?? []
  return (
    <section aria-label="Calls to other programs" className="flex flex-col gap-2">
      <h2 className="flex items-baseline gap-3 font-serif text-lg font-semibold">
        Calls to other programs
        {!naming && (
          <button type="button" className="link font-sans text-[13px] font-normal" onClick={() => setNaming(true)}>
            Name an address…
          </button>
        )}
      </h2>
      {naming && (
        <NameAddress
          close={() => setNaming(false)}
          made={(hook) => {
            setMade(hook)
            setNaming(false)
            void change(Promise.resolve())
          }}
        />
      )}
      {made && (
        <div className="flex flex-wrap items-center gap-2.5 rounded-xl border-2 border-copper bg-paper px-3.5 py-3">
          <p className="w-full">
            <b className="font-semibold wrap-anywhere">{made.address}</b> is called from now on. Calls are signed with this secret; keep it
            now, it is shown once.
          </p>
          <code className="rounded-md bg-wash px-3 py-1.5 text-[13px] break-all select-all">{made.secret}</code>
          <button type="button" className="button-plain ml-auto" onClick={() => setMade(null)}>
            I have kept it
          </button>
        </div>
      )}
      {hooks.isSuccess && list.length === 0 && !naming && !made && (
        <p className="text-muted">None. A program of yours can be told when a dataset has a new version.</p>
      )}
      {list.length > 0 && (
        <ul className="divide-y divide-line rounded-xl border border-line bg-paper">
          {list.map((hook) => (
            <li key={hook.id} className="flex flex-wrap items-baseline gap-x-6 gap-y-1 px-3.5 py-2">
              <b className="min-w-64 flex-1 font-semibold wrap-anywhere">{hook.address}</b>
              <span className="text-[13px] text-muted">{lastOf((calls.data ?? []).filter((call) => call.hook_id === hook.id))}</span>
              <button
                type="button"
                className="link"
                aria-label={`No longer call ${hook.address}`}
                onClick={() => void change(api.dropHook(hook.id)).then((done) => done && announce('It is no longer called'))}
              >
                take back
              </button>
            </li>
          ))}
        </ul>
      )}
      {(calls.data?.length ?? 0) > 0 && <Log calls={calls.data!} />}
    </section>
  )
}

/** What came of the last call, in words. */
function lastOf(calls: HookCall[]): string {
  const last = calls[0]
  if (!last) return 'not called yet'
  if (last.over) return last.said === 'taken' ? `called ${moment(last.next_at)}` : `given up ${moment(last.next_at)}: ${last.said}`
  return last.tries === 0 ? 'is called in a moment' : `${last.said}; tried again ${moment(last.next_at)}`
}

function NameAddress({ close, made }: { close: () => void; made: (hook: { address: string; secret: string }) => void }) {
  const [address, setAddress] = useState('')
  return (
    <Form send={async () => made(await api.addHook(address.trim()))} action="Call it" more={<NotNow press={close} />}>
      <Field
        name="Address"
        kind="address"
        value={address}
        set={setAddress}
        hint="https://other.example/told: it is sent JSON, signed"
        first
      />
    </Form>
  )
}

function Log({ calls }: { calls: HookCall[] }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <button type="button" className="link self-start text-[13px]" aria-expanded={open} onClick={() => setOpen(!open)}>
        {counted(calls.length, 'call')} of late
      </button>
      {open && (
        <div role="region" aria-label="Calls of late" tabIndex={0} className="overflow-x-auto rounded-xl border border-line bg-paper">
          <table className="w-full text-left text-[13px]">
            <tbody>
              {calls.map((call) => (
                <tr key={call.id} className="border-b border-line last:border-0">
                  <td className="px-3.5 py-1 whitespace-nowrap text-muted">{moment(call.created_at)}</td>
                  <td className="px-3.5 py-1 whitespace-nowrap">{call.event}</td>
                  <td className="px-3.5 py-1 whitespace-nowrap">{counted(call.tries, 'try', 'tries')}</td>
                  <td className="px-3.5 py-1 wrap-anywhere">{call.said || 'not yet'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  )
}
