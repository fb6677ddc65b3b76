import { useEffect, useRef, useState } from 'react'
import { KindSign } from './KindSign'

/** Something that could be typed next. */
export interface Suggestion {
  text: string // to be put in the place of the word
  name: string
  help: string
  kind?: string // of a column
}

/** What could be typed next, and where the word begins that it takes the place of. */
export interface Completion {
  from: number
  suggestions: Suggestion[]
}

/** Where the caret of a typed text stands, and the way to put a suggestion there. */
export function useCaret(text: string, write: (text: string) => void) {
  const area = useRef<HTMLTextAreaElement>(null)
  const [caret, setCaret] = useState(text.length)
  const put = (from: number, s: Suggestion) => {
    const at = from + s.text.length
    write(text.slice(0, from) + s.text + text.slice(caret))
    setCaret(at)
    area.current?.focus()
    requestAnimationFrame(() => area.current?.setSelectionRange(at, at))
  }
  return { area, caret, setCaret, put }
}

/** What could be typed next, to be pressed or taken with the keys of the field. */
export function SuggestionList({ id, list, here, put }: { id: string; list: Suggestion[]; here: number; put: (s: Suggestion) => void }) {
  const ul = useRef<HTMLUListElement>(null)
  useEffect(() => void ul.current?.children[here]?.scrollIntoView({ block: 'nearest' }), [here])
  return (
    <ul ref={ul} id={id} role="listbox" aria-label="What could come next" className={`max-h-52 overflow-auto ${list.length === 0 ? 'hidden' : ''}`}>
      {list.map((s, i) => (
        <li
          key={`${s.name} ${i}`}
          id={`${id}-${i}`}
          role="option"
          aria-selected={i === here}
          onPointerDown={(e) => e.preventDefault()}
          onClick={() => put(s)}
          className={`flex cursor-pointer items-center gap-2 rounded-md px-2 py-1 text-[13px] ${i === here ? 'bg-copper-wash' : 'hover:bg-wash'}`}
        >
          {s.kind && <KindSign kind={s.kind} className="size-3.5" />}
          <span className="font-mono whitespace-nowrap">{s.name}</span>
          <span className="truncate text-muted">{s.help}</span>
        </li>
      ))}
    </ul>
  )
}
