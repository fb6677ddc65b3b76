import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Key, type Me, type Scope } from '../../api/client'
import { may } from '../../ui/may'
import { moment } from '../../ui/moment'
import { announce } from '../../ui/title'
import { Field, Form, NotNow } from '../signin/Entrance'
import type { Change } from './change'

/** What a key can be for, as it is said after "may", and what its person must be. */
const SCOPES: [Scope, string, 'reader' | 'maker'][] = [
  ['read', 'read every table and chart', 'reader'],
  ['add rows', 'add rows', 'maker'],
  ['make', 'bring tables and make charts', 'maker'],
  ['share', 'share charts', 'maker'],
]

const ENDS: [number, string][] = [
  [30, 'a month from now'],
  [365, 'a year from now'],
  [1096, 'three years from now'],
]

/** The keys of scripts: made, shown once, taken back. */
export function Keys({ me, change }: { me: Me; change: Change }) {
  const keys = useQuery({ queryKey: ['keys'], queryFn: api.keys, refetchInterval: 20_000 })
  const [making, setMaking] = useState(false)
  const [made, setMade] = useState<(Key & { token: string }) | null>(null)
  const list = (keys.data ?? []).filter((key) => key.id !== made?.id)
  return (
    <section aria-label="Keys for scripts" className="flex flex-col gap-2">
      <h2 className="flex items-baseline gap-3 font-serif text-lg font-semibold">
        Keys for scripts
        {!making && (
          <button type="button" className="link font-sans text-[13px] font-normal" onClick={() => setMaking(true)}>
            Make a key…
          </button>
        )}
      </h2>
      {making && (
        <MakeKey me={me} close={() => setMaking(false)} made={(key) => (setMade(key), setMaking(false), void change(Promise.resolve()))} />
      )}
      {made && <MadeKey made={made} kept={() => setMade(null)} />}
      {list.length > 0 && <KeyTable me={me} keys={list} change={change} />}
      {keys.isSuccess && list.length === 0 && !making && !made && (
        <p className="text-muted">None. A script signs in with one, for what it may do alone.</p>
      )}
    </section>
  )
}

function MakeKey({ me, close, made }: { me: Me; close: () => void; made: (key: Key & { token: string }) => void }) {
  const [name, setName] = useState('')
  const [scopes, setScopes] = useState<Scope[]>(['read'])
  const [days, setDays] = useState(365)
  const [dataset, setDataset] = useState(0)
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: api.datasets })
  return (
    <Form
      send={async () =>
        made(await api.addKey({ name, scopes, days, ...(dataset && scopes.includes('add rows') && { dataset_id: dataset }) }))
      }
      action="Make the key"
      more={<NotNow press={close} />}
    >
      <Field name="What uses it" kind="text" value={name} set={setName} hint="weekly import, valley dashboard" first />
      <fieldset>
        <legend className="mb-1.5">It may</legend>
        <div className="flex flex-col gap-1.5">
          {SCOPES.map(([scope, words, least]) => (
            <label key={scope} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="size-4"
                disabled={!may(me, least)}
                checked={scopes.includes(scope)}
                onChange={(e) => setScopes(e.target.checked ? [...scopes, scope] : scopes.filter((one) => one !== scope))}
              />
              {words}
              {scope === 'add rows' && scopes.includes(scope) && (
                <>
                  to
                  <select
                    className="field w-auto py-1"
                    aria-label="Which dataset it may add rows to"
                    value={dataset}
                    onChange={(e) => setDataset(Number(e.target.value))}
                  >
                    <option value={0}>any dataset</option>
                    {datasets.data?.map((one) => (
                      <option key={one.id} value={one.id}>
                        {one.name}
                      </option>
                    ))}
                  </select>
                </>
              )}
            </label>
          ))}
        </div>
      </fieldset>
      <label className="flex items-baseline gap-2">
        until
        <select className="field w-auto" value={days} onChange={(e) => setDays(Number(e.target.value))}>
          {ENDS.map(([n, words]) => (
            <option key={n} value={n}>
              {words}
            </option>
          ))}
        </select>
      </label>
    </Form>
  )
}

/** The one time that a key is shown. */
function MadeKey({ made, kept }: { made: Key & { token: string }; kept: () => void }) {
  const [copied, setCopied] = useState(false)
  return (
    <section aria-label="The new key" className="flex flex-col gap-2.5 rounded-xl border-2 border-copper bg-paper px-3.5 py-3">
      <p>
        <b className="font-semibold">{made.name}</b> is made. This is the only time its key is shown; keep it now.
      </p>
      <div className="flex flex-wrap items-center gap-2.5">
        <code className="min-w-0 rounded-md bg-wash px-3 py-1.5 text-[13px] break-all select-all">{made.token}</code>
        <button
          type="button"
          className="button-plain"
          onClick={async () => (await navigator.clipboard.writeText(made.token), setCopied(true), announce('Copied'))}
        >
          {copied ? 'Copied' : 'Copy'}
        </button>
        <button type="button" className="button-plain ml-auto" onClick={kept}>
          I have kept it
        </button>
      </div>
    </section>
  )
}

function KeyTable({ me, keys, change }: { me: Me; keys: Key[]; change: Change }) {
  const said = (key: Key) =>
    SCOPES.filter(([scope]) => key.scopes.includes(scope))
      .map(([scope, words]) => (scope === 'add rows' && key.dataset ? `add rows to ${key.dataset}` : words))
      .join(', ')
  const takeBack = async (key: Key) => {
    if (!confirm(`Take back the key of ${key.name}? What uses it stops at once.`)) return
    if (await change(api.dropKey(key.id))) announce('Taken back')
  }
  return (
    <div role="region" aria-label="Keys" tabIndex={0} className="relative shrink-0 overflow-x-auto rounded-xl border border-line bg-paper">
      <table className="w-full text-left">
        <thead className="bg-strip text-[13px] text-muted">
          <tr>
            {['Key', 'may', ...(may(me, 'owner') ? ['of'] : []), 'until', 'last used', ''].map((head) => (
              <th key={head} scope="col" className="px-3.5 py-1 font-normal">
                {head || <span className="sr-only">What can be done</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {keys.map((key) => (
            <tr key={key.id} className="border-t border-line">
              <td className="max-w-48 truncate px-3.5 py-1.5 font-medium" title={key.name}>
                {key.name}
              </td>
              <td className="px-3.5 py-1.5">{said(key)}</td>
              {may(me, 'owner') && <td className="px-3.5 py-1.5 whitespace-nowrap">{key.by}</td>}
              <td className="px-3.5 py-1.5 whitespace-nowrap">{moment(key.expires_at)}</td>
              <td className="px-3.5 py-1.5 whitespace-nowrap text-muted">{key.used_at ? moment(key.used_at) : 'not yet'}</td>
              <td className="px-3.5 py-1.5 text-right">
                <button
                  type="button"
                  className="link whitespace-nowrap"
                  aria-label={`Take back ${key.name}`}
                  onClick={() => void takeBack(key)}
                >
                  take back
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
