import { useQueryClient } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { Link } from 'react-router'
import { api, Refusal, type Chart, type Dataset, type Share } from '../../api/client'
import type { Figure, GoesOut } from '../../figure/figure'
import { counted, formatNumber } from '../../scale/format'
import type { Bench } from '../../state/bench'
import { useBench } from '../../state/useBench'
import { Dialog } from '../../ui/Dialog'
import { Trouble } from '../../ui/Words'

export const addressOf = (share: Share) => `${location.origin}/s/${share.key}`

/** Makes a fixed copy of the chart under an address of its own. */
export function ShareDialog({ bench, dataset, onClose }: { bench: Bench; dataset: Dataset; onClose: () => void }) {
  const queries = useQueryClient()
  const { document, drawing, chart } = useBench(bench, 'document', 'drawing', 'chart')
  const said = (slot: string) => drawing!.spoken.find((part) => part.slot === slot)?.text ?? ''
  // A name that nobody said follows the sentence: the list of charts knows the newest one.
  const called = queries.getQueryData<Chart[]>(['charts'])?.find((c) => c.id === chart?.id)?.name ?? chart?.name
  const [title, setTitle] = useState(document.manner?.title || called || sentenceCase(`${said('y')} against ${said('x')}`))
  const [text, setText] = useState(
    document.manner?.note ||
      drawing!.reading.paragraphs
        .filter((p) => !p.shows?.rows?.length)
        .slice(0, 2)
        .map((p) => p.spans.map((s) => s.text).join(''))
        .join(' '),
  )
  const [share, setShare] = useState<Share | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [copied, setCopied] = useState(false)
  const [busy, setBusy] = useState(false)
  const { rows } = drawing!.figure
  const could = drawing!.goes_out
  const [columns, setColumns] = useState(() => could.filter((c) => !c.heads).map((c) => c.column))
  const submit = async (e: FormEvent) => {
    e.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      await bench.settled()
      setShare(await api.share({ chart_id: bench.get().chart?.id, version_id: bench.version, document, title, text, columns }))
      await queries.invalidateQueries({ queryKey: ['shares'] })
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setBusy(false)
    }
  }
  const copy = async () => {
    await navigator.clipboard.writeText(addressOf(share!))
    setCopied(true)
  }
  if (share)
    return (
      <Dialog title="The chart is shared" onClose={onClose}>
        <p className="mb-3 font-serif text-lg">
          Whoever has this link can read the chart, without signing in. It is a fixed copy: it stays as it is now.
        </p>
        <div className="mb-4 flex gap-2">
          <input
            className="field"
            readOnly
            aria-label="Link to the shared chart"
            value={addressOf(share)}
            onFocus={(e) => e.target.select()}
          />
          <button type="button" className="button-bright shrink-0" onClick={copy}>
            {copied ? 'Copied' : 'Copy link'}
          </button>
        </div>
        <p className="flex gap-5">
          <a className="link" href={addressOf(share)} target="_blank" rel="noreferrer">
            Open it
          </a>
          <Link className="link" to={`/dataset/${dataset.id}/shared`}>
            All shared charts
          </Link>
        </p>
      </Dialog>
    )
  return (
    <Dialog title="Share this chart" onClose={onClose}>
      <form onSubmit={submit} className="flex flex-col gap-4">
        <label className="flex flex-col gap-1.5">
          Title
          <input className="field font-serif text-lg" autoFocus value={title} maxLength={500} onChange={(e) => setTitle(e.target.value)} />
        </label>
        <label className="flex flex-col gap-1.5">
          Text under the title
          <textarea className="field font-serif" rows={5} value={text} maxLength={10000} onChange={(e) => setText(e.target.value)} />
        </label>
        <Published columns={could} chosen={columns} choose={setColumns} rows={rows} />
        {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
        <div className="flex justify-end gap-2">
          <button type="button" className="button-plain" onClick={onClose}>
            Do not share
          </button>
          <button className="button-bright" disabled={busy}>
            Share
          </button>
        </div>
      </form>
    </Dialog>
  )
}

/** Says what leaves the house: so many rows, and these columns, each of which can stay at home. */
function Published({
  columns,
  chosen,
  choose,
  rows,
}: {
  columns: GoesOut[]
  chosen: string[]
  choose: (columns: string[]) => void
  rows: Figure['rows']
}) {
  return (
    <fieldset className="rounded-lg border border-line px-4 py-3">
      <legend className="px-1 font-semibold">What goes out</legend>
      <p className="mb-2">
        {counted(rows.drawn - rows.outside, 'row')} {rows.drawn - rows.outside === 1 ? 'goes' : 'go'} out
        {rows.total > rows.drawn - rows.outside &&
          `; the other ${formatNumber(rows.total - rows.drawn + rows.outside, 0)} of the dataset ${rows.total - rows.drawn + rows.outside === 1 ? 'stays' : 'stay'} here`}
        . Of each row, readers get:
      </p>
      <ul className="flex flex-wrap gap-x-5 gap-y-1">
        {columns.map((c) => (
          <li key={c.column}>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-copper"
                checked={chosen.includes(c.column)}
                disabled={c.drawn}
                onChange={(e) => choose(e.target.checked ? [...chosen, c.column] : chosen.filter((name) => name !== c.column))}
              />
              {c.name}
              {(c.drawn || c.heads) && <span className="text-[13px] text-muted">{c.drawn ? 'drawn' : 'would head the card'}</span>}
            </label>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-[13px] text-muted">
        What is not ticked stands nowhere in what goes out: on no card, in no label, word or download. What the chart is drawn by goes with
        it; to keep that here, first take its clause out of the sentence.
      </p>
    </fieldset>
  )
}

const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
