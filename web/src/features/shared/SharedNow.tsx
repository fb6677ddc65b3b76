import { useState } from 'react'
import { Link } from 'react-router'
import type { Share } from '../../api/client'
import { addressOf } from './ShareForm'

/** What a share can be taken as, beside its link. */
const FILES: { ending: string; name: string; says: string }[] = [
  { ending: 'svg', name: 'SVG', says: 'vector' },
  { ending: 'png', name: 'PNG', says: 'pixels' },
  { ending: 'pdf', name: 'PDF', says: 'print' },
]

/** After something was shared: its link, how it stands in other pages, pictures and files of it. */
export function SharedNow({ share, all }: { share: Share; all?: string }) {
  const address = addressOf(share)
  const [width, setWidth] = useState('1200')
  const open = !share.people_only && !share.locked
  const frame = `<iframe src="${location.origin}/embed/${share.key}" title="${share.title.replace(/[&"<>]/g, (c) => `&#${c.charCodeAt(0)};`)}" width="100%" height="620" frameborder="0" loading="lazy"></iframe><script src="${location.origin}/embed.js" async></script>`
  return (
    <div className="flex flex-col gap-4">
      <p className="font-serif text-lg">
        {share.people_only
          ? 'People of this space can read it by this link.'
          : share.locked
            ? 'Whoever has this link and the password can read it, without signing in.'
            : 'Whoever has this link can read it, without signing in.'}{' '}
        {share.live ? 'It follows what is kept.' : 'It is a fixed copy: it stays as it is now.'}
      </p>
      <Copied label="Link to what is shared" name="Copy link" text={address} bright />
      {open && <Copied label="For a page of your own" name="Copy" text={frame} shown />}
      {open && (
        <Copied label="A picture under a fixed address, for mails and wikis" name="Copy" text={`${address}.png?width=${width}`} shown>
          <label className="flex items-center gap-2 text-[13px]">
            <input
              className="field w-24"
              type="number"
              min={100}
              max={4000}
              aria-label="Width of the picture"
              value={width}
              onChange={(e) => setWidth(e.target.value)}
            />
            px wide
          </label>
        </Copied>
      )}
      <p className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <a className="link" href={address} target="_blank" rel="noreferrer">
          Open it
        </a>
        {FILES.map((f) => (
          <a key={f.ending} className="link" href={`${address}.${f.ending}${f.ending === 'png' ? `?width=${width}` : ''}`} download>
            {f.name}
            <span className="text-muted"> {f.says}</span>
          </a>
        ))}
        <a className="link" href={`${address}.html`} download>
          One file that works offline
        </a>
        {all && (
          <Link className="link" to={all}>
            All shared charts
          </Link>
        )}
      </p>
    </div>
  )
}

function Copied({
  label,
  name,
  text,
  bright,
  shown,
  children,
}: {
  label: string
  name: string
  text: string
  bright?: boolean
  /** Whether the label is seen. */
  shown?: boolean
  children?: React.ReactNode
}) {
  const [copied, setCopied] = useState('')
  return (
    <div>
      {shown && <p className="mb-1 font-semibold">{label}</p>}
      <div className="flex flex-wrap gap-2">
        <input className="field min-w-40 flex-1" readOnly aria-label={label} value={text} onFocus={(e) => e.target.select()} />
        {children}
        <button
          type="button"
          className={`${bright ? 'button-bright' : 'button-plain'} shrink-0`}
          onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(text))}
        >
          {copied === text ? 'Copied' : name}
        </button>
      </div>
    </div>
  )
}
