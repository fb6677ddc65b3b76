import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, Refusal, type Dataset } from '../../api/client'
import { Dialog } from '../../ui/Dialog'
import { Trouble } from '../../ui/Words'

/** Whether a text that is pasted begins as the sentence of a chart does. */
export const isSentence = (text: string): boolean => /^\s*(of rows |plot )/i.test(text) && text.length < 100_000

/** A sentence that is pasted outside of fields; take says whether it is one's own to take. */
export function usePasted(take: (sentence: string) => void): void {
  useEffect(() => {
    const paste = (e: ClipboardEvent) => {
      const text = e.clipboardData?.getData('text/plain') ?? ''
      if (
        e.defaultPrevented ||
        !isSentence(text) ||
        (e.target as HTMLElement).closest('input, textarea, select, dialog, [contenteditable=true]')
      )
        return
      e.preventDefault()
      e.stopImmediatePropagation() // it is no table
      take(text)
    }
    addEventListener('paste', paste, { capture: true })
    return () => removeEventListener('paste', paste, { capture: true })
  }, [take])
}

/** A pasted sentence becomes a chart: of the table that is looked at, or of one that is chosen. */
export function PastedSentence({ dataset }: { dataset?: Dataset }) {
  const navigate = useNavigate()
  const [pasted, setPasted] = useState<string | null>(null)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const datasets = useQuery({ queryKey: ['datasets'], queryFn: api.datasets, enabled: pasted !== null && !dataset })
  usePasted(setPasted)
  const over = async (of: Dataset, typed: string) => {
    setTrouble(null)
    try {
      const { document } = await api.draw(of.version_id, { typed, width: 640, height: 400 })
      setPasted(null)
      navigate(`/dataset/${of.id}/chart?new=${Date.now()}`, { state: { document } })
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
  }
  useEffect(() => {
    if (pasted !== null && dataset) void over(dataset, pasted)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each that is pasted
  }, [pasted])
  const close = () => {
    setPasted(null)
    setTrouble(null)
  }
  if (pasted === null || (dataset && !trouble)) return null
  return (
    <Dialog title="A sentence was pasted" onClose={close}>
      <p className="mb-3 font-serif text-[17px] leading-[1.5] whitespace-pre-line">{pasted.trim()}</p>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      {!dataset && (
        <ul aria-label="Over which table" className="mt-2 flex flex-col">
          {(datasets.data ?? []).map((d) => (
            <li key={d.id}>
              <button
                type="button"
                className="w-full rounded-md px-3 py-2 text-left hover:bg-copper-wash"
                onClick={() => void over(d, pasted)}
              >
                over <strong>{d.name}</strong>
              </button>
            </li>
          ))}
        </ul>
      )}
    </Dialog>
  )
}
