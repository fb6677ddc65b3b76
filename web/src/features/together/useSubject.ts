import { useCallback, useEffect, useRef, useState } from 'react'
import { api, Refusal, type Here, type Me } from '../../api/client'
import { Following } from '../../state/following'
import { useNotesChanged } from '../notes/useNotes'

/** A dataset or a page that is open, with others who have it open too. */
export interface SubjectHand {
  connected: boolean
  others: Here[]
  /** Says where one writes; who has the place already, or null where it is one's own now. Empty: nowhere. */
  stand: (place: string) => Promise<string | null>
}

/** Follows a dataset or a page while it is open; changed is told that it is to be read again. */
export function useSubject(kind: 'datasets' | 'pages', id: number, me: Me, changed: () => void): SubjectHand {
  const [connected, setConnected] = useState(true)
  const [others, setOthers] = useState<Here[]>([])
  const called = useRef('')
  const place = useRef('')
  const tell = useRef(changed)
  const notes = useNotesChanged()
  useEffect(() => {
    tell.current = changed
  })
  const say = useCallback(async (at: string): Promise<string | null> => {
    if (!called.current) return null // nobody hears of it: what is written is put together by the server
    try {
      await api.standIn(called.current, at)
      return null
    } catch (fault) {
      return fault instanceof Refusal && fault.status === 409 ? fault.message : null
    }
  }, [])
  useEffect(() => {
    let was = false // lost: what happened meanwhile was not told
    const following = new Following(
      {
        window: (data) => {
          called.current = (JSON.parse(data) as { id: string }).id
          if (place.current) void say(place.current)
          if (was) tell.current()
          was = false
        },
        changed: () => tell.current(),
        notes,
        people: (data) => setOthers((JSON.parse(data) as Here[]).filter((h) => h.person_id !== me.id)),
      },
      (is) => {
        setConnected(is)
        if (is) return
        was = true
        called.current = ''
        setOthers([])
      },
    )
    following.follow(`/api/${kind}/${id}/events`)
    return () => following.leave()
  }, [kind, id, me.id, notes, say])
  const stand = useCallback(
    async (at: string) => {
      const taken = await say(at)
      if (taken === null) place.current = at
      return taken
    },
    [say],
  )
  return { connected, others, stand }
}
