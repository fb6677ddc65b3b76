import { useState } from 'react'
import { upload, type Preview, type Refusal } from '../api/client'

/** The endings of files with tables. */
export const TABLE_FILES =
  '.csv,.tsv,.txt,.gz,.tab,.json,.jsonl,.ndjson,.xlsx,.ods,.parquet,.arrow,.arrows,.feather,.avro,.sqlite,.sqlite3,.db,.las,.xpt,.dta,.sav,.zsav,.zip,text/csv,text/plain,application/json'

export interface Sending {
  name: string
  share: number
  abort: () => void
}

/** Sends files to be looked at, one at a time, and knows how far it is. */
export function useUpload() {
  const [sending, setSending] = useState<Sending | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const send = async (file: File): Promise<Preview | undefined> => {
    setTrouble(null)
    const { done, abort } = upload(file, (share) => setSending((now) => now && { ...now, share }))
    setSending({ name: file.name, share: 0, abort })
    try {
      return await done
    } catch (fault) {
      setTrouble(fault as Refusal)
    } finally {
      setSending(null)
    }
  }
  return { sending, send, trouble, setTrouble }
}

export function UploadProgress({ sending }: { sending: Sending }) {
  return (
    <div role="status" className="flex flex-1 items-center gap-4">
      <span className="truncate">{sending.share < 1 ? `Sending ${sending.name}` : `Reading ${sending.name}`}</span>
      <progress
        className="h-2 flex-1 accent-copper"
        max={1}
        value={sending.share < 1 ? sending.share : undefined}
        aria-label="Progress of the file"
      />
      <button type="button" className="button-plain" onClick={sending.abort}>
        Stop
      </button>
    </div>
  )
}
