import { useId, useRef, useState, type KeyboardEvent } from 'react'
import { Refusal } from '../../api/client'
import { PersonDisc } from '../../ui/PersonDisc'
import { Trouble } from '../../ui/Words'
import { usePeople } from './NoteText'

/** The most letters of a note, as the server takes them. */
const MOST = 4000
const MOST_OFFERED = 6

/** Where a note or an answer is written; @ offers the people of the space. What was typed stays where it could not be kept. */
export function NoteField({
  label,
  action,
  begins = '',
  keep,
  leave,
}: {
  label: string
  action: string
  begins?: string
  keep: (text: string) => Promise<unknown>
  leave: () => void
}) {
  const [text, setText] = useState(begins)
  const [busy, setBusy] = useState(false)
  const [trouble, setTrouble] = useState<Refusal | null>(null)
  const [naming, setNaming] = useState<{ from: number; typed: string } | null>(null)
  const [at, setAt] = useState(0)
  const field = useRef<HTMLTextAreaElement>(null)
  const list = useId()
  const people = usePeople()
  const offered = naming ? people.filter((p) => p.name.toLowerCase().includes(naming.typed.toLowerCase())).slice(0, MOST_OFFERED) : []
  const look = (value: string, caret: number) => {
    const named = /(?:^|[\s(])@([^@\n]{0,40})$/u.exec(value.slice(0, caret))
    setNaming(named ? { from: caret - named[1].length, typed: named[1] } : null)
    setAt(0)
  }
  const name = (i: number) => {
    if (!naming || !offered[i]) return
    const after = naming.from + offered[i].name.length + 1
    setText(text.slice(0, naming.from) + offered[i].name + ' ' + text.slice(naming.from + naming.typed.length).replace(/^ /, ''))
    setNaming(null)
    requestAnimationFrame(() => {
      field.current?.focus()
      field.current?.setSelectionRange(after, after)
    })
  }
  const send = async () => {
    if (!text.trim() || busy) return
    setBusy(true)
    setTrouble(null)
    try {
      await keep(text)
      setText('')
    } catch (fault) {
      setTrouble(fault as Refusal)
    }
    setBusy(false)
  }
  const press = (e: KeyboardEvent) => {
    const choosing = offered.length > 0
    const by = { ArrowDown: 1, ArrowUp: -1 }[e.key]
    if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) void send()
    else if (choosing && by) setAt((at + by + offered.length) % offered.length)
    else if (choosing && (e.key === 'Enter' || e.key === 'Tab')) name(at)
    else if (e.key === 'Escape') choosing ? setNaming(null) : leave()
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  return (
    <div className="relative">
      <textarea
        ref={field}
        className="field min-h-16 w-full resize-y text-[14px]"
        dir="auto"
        rows={2}
        autoFocus
        maxLength={MOST}
        aria-label={label}
        placeholder="@ names somebody"
        role="combobox"
        aria-expanded={offered.length > 0}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={offered.length > 0 ? `${list}-${at}` : undefined}
        value={text}
        onChange={(e) => {
          setText(e.target.value)
          look(e.target.value, e.target.selectionStart)
        }}
        onKeyDown={press}
        onBlur={() => setNaming(null)}
      />
      <ul
        id={list}
        role="listbox"
        aria-label="People of the space"
        hidden={offered.length === 0}
        className="absolute inset-x-0 z-20 -mt-1 rounded-lg border border-line bg-strip p-1 text-[13px] shadow-lg"
      >
        {offered.map((person, i) => (
          <li
            key={person.id}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === at}
            className={`flex cursor-pointer items-center gap-2 rounded-md px-2 py-1 ${i === at ? 'bg-copper-wash text-copper' : ''}`}
            onPointerDown={(e) => (e.preventDefault(), name(i))}
          >
            <PersonDisc name={person.name} id={person.id} size="size-5 text-[9px]" named={false} />
            <span className="truncate">{person.name}</span>
          </li>
        ))}
      </ul>
      {trouble && <Trouble message={trouble.message} advice={trouble.advice} />}
      <div className="mt-1.5 flex items-center gap-3 text-[13px]">
        <button type="button" className="button-plain px-3 py-1" disabled={!text.trim() || busy} onClick={() => void send()}>
          {action}
        </button>
        <button type="button" className="link" onClick={leave}>
          leave
        </button>
        <span className="ml-auto text-muted">Ctrl-Enter {action === 'Answer' ? 'answers' : 'keeps'} it</span>
      </div>
    </div>
  )
}
