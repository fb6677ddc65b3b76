import { useEffect, useState } from 'react'
import { api } from '../api/client'

const LOOK_EVERY = 700

/** How far the work is that runs, in the server's words, where they are such ones. */
export function useDone(active: boolean, words = /./): string {
  const [done, setDone] = useState('')
  const said = words.source
  useEffect(() => {
    if (!active) return
    let left = false
    const look = async () => {
      const jobs = await api.work().catch(() => [])
      const told = new RegExp(said)
      if (!left) setDone(jobs.find((job) => told.test(job.done ?? ''))?.done ?? '')
    }
    const timer = setInterval(() => void look(), LOOK_EVERY)
    return () => {
      left = true
      clearInterval(timer)
      setDone('')
    }
  }, [active, said])
  return done
}
