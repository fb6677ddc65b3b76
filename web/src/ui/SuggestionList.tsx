import { useEffect, useRef } from 'react'
import type { Completion } from '../api/client'
import { KindSign } from './KindSign'

/** Something that could be typed next. */
export type Suggestion = NonNullable<Completion['suggestions']>[number]

/** What could be typed next, to be pressed or taken with the keys of the editor. */
export function SuggestionList({ id, list, here, put }: { id: string; list: Suggestion[]; here: number; put: (s: Suggestion) => void }) {
  const ul = useRef<HTMLUListElement>(null)
  useEffect(() => void ul.current?.children[here]?.scrollIntoView({ block: 'nearest' }), [here])
  return (
    <>
      {/* The editor stands in a shadow root, from which no element here can be pointed at: what the arrows reach is said. */}
      <p className="sr-only" aria-live="polite">
        {list[here] && `${list[here].name}, ${list[here].help}, ${here + 1} of ${list.length}`}
      </p>
      <ul
        ref={ul}
        id={id}
        role="listbox"
        tabIndex={0}
        aria-label="What could come next"
        className={`max-h-52 overflow-auto ${list.length === 0 ? 'hidden' : ''}`}
      >
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
            <span className="font-semibold whitespace-nowrap text-copper">{s.name}</span>
            <span className="truncate text-muted">{s.help}</span>
          </li>
        ))}
      </ul>
    </>
  )
}
