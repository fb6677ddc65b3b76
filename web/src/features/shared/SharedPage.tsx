import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useParams } from 'react-router'
import { api, Refusal, type Me, type Share } from '../../api/client'
import { useMakes } from '../../ui/may'
import { Shell } from '../../ui/Shell'
import { PastedSentence } from '../again/pasted'
import { Trouble, Waiting } from '../../ui/Words'
import { counted } from '../../scale/format'
import { addressOf } from './ShareForm'

const day = (moment: string) => new Date(moment).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })

/** The charts of this space that others can read, and taking them back. */
export function SharedPage({ me }: { me: Me }) {
  const id = Number(useParams().dataset)
  const queries = useQueryClient()
  const dataset = useQuery({ queryKey: ['dataset', id], queryFn: () => api.dataset(id) })
  const shares = useQuery({ queryKey: ['shares'], queryFn: api.shares })
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const withdraw = async (share: Share) => {
    setTrouble(null)
    try {
      await api.withdraw(share.id)
      await queries.invalidateQueries({ queryKey: ['shares'] })
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  return (
    <Shell me={me} dataset={dataset.data?.dataset} view="Shared" headed>
      <main className="flex-1 overflow-auto px-6 py-6">
        <div className="mx-auto max-w-5xl">
          <h1 className="mb-1 font-serif text-xl font-semibold">Shared charts</h1>
          <p className="mb-4 text-muted">Charts and pages of {me.space} that have a link for readers, until they are withdrawn.</p>
          {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
          {shares.isPending && <Waiting what="Looking for shared charts" />}
          {shares.data?.length === 0 && <p className="font-serif text-lg">Nothing is shared yet. Open a chart and press Share.</p>}
          {shares.data && shares.data.length > 0 && <ShareTable shares={shares.data} withdraw={withdraw} />}
        </div>
      </main>
      {dataset.data && <PastedSentence dataset={dataset.data.dataset} />}
    </Shell>
  )
}

/** How often a share was opened, by day; nobody is tracked. */
function Opens({ share }: { share: Share }) {
  const [open, setOpen] = useState(false)
  const days = useQuery({ queryKey: ['opens', share.id], queryFn: () => api.shareOpens(share.id), enabled: open })
  return (
    <>
      {' '}
      <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        by day
      </button>
      {open && <span className="block tabular-nums">{days.data?.map((d) => `${day(d.day)}: ${d.opened}`).join(' · ')}</span>}
    </>
  )
}

function ShareTable({ shares, withdraw }: { shares: Share[]; withdraw: (share: Share) => void }) {
  const [copied, setCopied] = useState(0)
  const makes = useMakes()
  const copy = async (share: Share) => {
    await navigator.clipboard.writeText(addressOf(share))
    setCopied(share.id)
  }
  return (
    <div className="relative overflow-x-auto rounded-xl border border-line bg-paper">
      <table className="w-full text-left">
        <thead className="bg-strip text-[13px] text-muted">
          <tr>
            <th scope="col" className="px-4 py-2 font-normal">
              Chart or page
            </th>
            <th scope="col" className="px-4 py-2 font-normal">
              Shared
            </th>
            <th scope="col" className="px-4 py-2 font-normal">
              <span className="sr-only">What can be done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shares.map((share) => (
            <tr key={share.id} className="border-t border-line align-top">
              <td className="px-4 py-3">
                <span className={`font-serif text-base font-semibold ${share.withdrawn_at ? 'text-muted line-through' : ''}`}>
                  {share.title}
                </span>
                <p className="text-[13px] text-muted">
                  {share.page_id ? 'a page' : share.source}
                  {share.live && ' · live'}
                  {share.people_only && ' · for people of the space'}
                  {share.locked && ' · with a password'}
                  {share.until && ` · until ${day(share.until)}`}
                  {` · opened ${counted(share.opened, 'time')}`}
                  {share.opened > 0 && <Opens share={share} />}
                </p>
                {share.trouble && !share.withdrawn_at && (
                  <p className="text-[13px] text-copper">It does not follow any more: {share.trouble}. Readers see it as it was.</p>
                )}
              </td>
              <td className="px-4 py-3 whitespace-nowrap">{day(share.created_at)}</td>
              <td className="px-4 py-3 text-right whitespace-nowrap">
                {share.withdrawn_at ? (
                  <span className="text-muted">withdrawn on {day(share.withdrawn_at)}</span>
                ) : (
                  <span className="flex justify-end gap-4">
                    <a className="link" href={addressOf(share)} target="_blank" rel="noreferrer">
                      Open
                    </a>
                    <button type="button" className="link" onClick={() => copy(share)}>
                      {copied === share.id ? 'Copied' : 'Copy link'}
                    </button>
                    {makes && (
                      <button type="button" className="link" onClick={() => withdraw(share)}>
                        Withdraw
                      </button>
                    )}
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
