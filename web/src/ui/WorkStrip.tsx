import { useEffect, useState, useSyncExternalStore } from 'react'
import { api, type Job } from '../api/client'
import { pending } from '../api/pending'

/** How long a request may take before the page says what it waits for, and how often it looks. */
const PATIENCE = 1000
const LOOK_EVERY = 1000

/** Says what a page waits for when it waits long, and stops it. */
export function WorkStrip() {
  const waits = useSyncExternalStore(pending.subscribe, pending.get)
  const oldest = waits[0]?.since ?? 0
  const [jobs, setJobs] = useState<Job[]>([])
  const [late, setLate] = useState(false)
  useEffect(() => {
    setLate(false)
    setJobs([])
    if (!oldest) return
    let left = false
    const look = async () => {
      const found = await api.work().catch(() => [])
      if (left) return
      setJobs(found)
      setLate(true)
      timer = window.setTimeout(look, LOOK_EVERY)
    }
    let timer = window.setTimeout(look, Math.max(0, PATIENCE - (Date.now() - oldest)))
    return () => {
      left = true
      clearTimeout(timer)
    }
  }, [oldest])
  if (!late || jobs.length === 0) return null
  const waiting = jobs.find((job) => !job.running)
  const job = waiting ?? jobs[0]
  const others = jobs.length - 1
  return (
    <div
      role="status"
      className="fixed bottom-4 left-1/2 z-30 flex max-w-[90vw] -translate-x-1/2 items-center gap-4 rounded-xl border border-line bg-strip px-4 py-2.5 shadow-xl"
    >
      <span className="size-2.5 shrink-0 animate-pulse rounded-full bg-copper" aria-hidden />
      <span className="truncate">
        {waiting ? `Waiting for a turn: ${job.what}` : `Working on ${job.what}`}
        {others > 0 && `, and ${others} more`}
        <span className="text-muted tabular-nums">
          {job.done && `: ${job.done}`} · {Math.round(job.seconds)} s
        </span>
      </span>
      <button type="button" className="button-plain shrink-0" onClick={pending.stopAll}>
        Stop
      </button>
    </div>
  )
}
