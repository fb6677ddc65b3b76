import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { Compartment, EditorState, Prec, StateEffect, StateField, Transaction } from '@codemirror/state'
import { Decoration, EditorView, keymap, placeholder as placeholderText, type DecorationSet } from '@codemirror/view'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useId, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import type { Completion } from '../api/client'
import { SuggestionList, type Suggestion } from './SuggestionList'

/** A stretch of the text that is wrong, in UTF-16 units. */
export interface Wrong {
  from: number
  to: number
}

export interface EditorProps {
  label: string
  text: string
  setText: (text: string) => void
  wrong?: Wrong[]
  /** What the server proposes after a text. */
  complete: (before: string, signal: AbortSignal) => Promise<Completion>
  /** What the proposals depend on, beside the text. */
  about: readonly unknown[]
  /** Offers proposals before a word is begun, too. */
  eager?: boolean
  placeholder?: string
  /** Enter keeps a text of one clause; Ctrl and Enter keep a longer one. */
  single?: boolean
  keep: () => void
  leave?: () => void
  rows: number
  /** What stands between the text and the proposals. */
  children?: React.ReactNode
}

/**
 * The editor of both typed languages: mistakes are underlined, and what the server says
 * could come next stands below. Tab takes the first proposal, the arrows walk over them.
 * It stands in a shadow root, where its styles need no exception from the content policy.
 */
export default function CodeEditor({
  label,
  text,
  setText,
  wrong,
  complete,
  about,
  eager,
  placeholder,
  single,
  keep,
  leave,
  rows,
  children,
}: EditorProps) {
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView>(null)
  const [before, setBefore] = useState(text)
  const [here, setHere] = useState(-1)
  const id = useId()
  const completion = useQuery({
    queryKey: ['completions', ...about, before],
    queryFn: ({ signal }) => complete(before, signal),
    staleTime: 60_000,
    gcTime: 60_000,
    retry: false,
    placeholderData: keepPreviousData,
  })
  const fresh = !completion.isPlaceholderData
  const begun = completion.data?.replace ?? 0
  const word = before.slice(before.length - begun)
  const list = (fresh && (begun > 0 || eager) ? (completion.data?.suggestions ?? []) : []).filter((s) => s.text.trimEnd() !== word)
  const put = (s: Suggestion) => {
    setHere(-1)
    const at = view.current!.state.selection.main.head
    view.current!.dispatch({
      changes: { from: at - begun, to: at, insert: s.text },
      selection: { anchor: at - begun + s.text.length },
      userEvent: 'input.complete',
    })
    view.current!.focus()
  }
  // What was typed and not yet rendered: a rendering that comes late must not undo what was typed since.
  const typed = useRef<string[]>([])
  // What the keys do is what was rendered last.
  const act = useRef({ list, here, put, setHere, keep, leave, setText, single })
  act.current = { list, here, put, setHere, keep, leave, setText, single }

  useEffect(() => {
    const root = host.current!.shadowRoot ?? host.current!.attachShadow({ mode: 'open' })
    const made = new EditorView({
      root,
      parent: root,
      state: EditorState.create({
        doc: text,
        selection: { anchor: text.length },
        extensions: [
          Prec.highest(keymap.of(keys(act))),
          history(),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({
            'aria-label': label,
            'aria-multiline': String(!single),
            spellcheck: 'false',
            autocapitalize: 'off',
          }),
          placeholder ? placeholderText(placeholder) : [],
          wrongField,
          invalid.of([]),
          single ? EditorState.transactionFilter.of(oneLine) : [],
          look,
          EditorView.updateListener.of((update) => {
            const { doc, selection } = update.state
            const follow = () => {
              if (update.docChanged) {
                typed.current.push(doc.toString())
                act.current.setText(doc.toString())
                setHere(-1)
              }
              if (update.docChanged || update.selectionSet) setBefore(doc.sliceString(0, selection.main.head))
            }
            // A key that follows at once must meet what this one did; in a shadow root nothing tells React that it was a key.
            if (update.transactions.some((t) => t.annotation(Transaction.userEvent))) flushSync(follow)
            else follow()
          }),
        ],
      }),
    })
    view.current = made
    made.focus()
    return () => {
      made.destroy()
      root.replaceChildren()
    }
  }, []) // eslint-disable-line react-hooks/exhaustive-deps -- the editor is made once; what changes reaches it otherwise

  // A text that was changed elsewhere is taken over.
  useEffect(() => {
    const now = view.current!
    const mine = typed.current.lastIndexOf(text)
    typed.current.splice(0, mine + 1)
    if (mine >= 0) return
    if (now.state.doc.toString() !== text)
      now.dispatch({ changes: { from: 0, to: now.state.doc.length, insert: text }, selection: { anchor: text.length } })
  }, [text])
  const places = JSON.stringify(wrong ?? [])
  useEffect(() => {
    view.current!.dispatch({
      effects: [
        setWrong.of(JSON.parse(places) as Wrong[]),
        invalid.reconfigure(EditorView.contentAttributes.of({ 'aria-invalid': String(places !== '[]') })),
      ],
    })
  }, [places])

  return (
    <>
      <div ref={host} className="typed-editor" style={{ minHeight: `${rows * 1.7}em` }} />
      {children}
      <SuggestionList id={id} list={list} here={here} put={put} />
    </>
  )
}

type Act = React.RefObject<{
  list: Suggestion[]
  here: number
  put: (s: Suggestion) => void
  setHere: (here: number) => void
  keep: () => void
  leave?: () => void
  single?: boolean
}>

/** The keys that are not those of any text. */
function keys(act: Act) {
  const walk = (by: number) => () => {
    const { list, here, setHere, single } = act.current
    if (!single || list.length === 0) return false
    flushSync(() => setHere((here + by + list.length + (here < 0 && by < 0 ? 1 : 0)) % list.length))
    return true
  }
  return [
    { key: 'ArrowDown', run: walk(1) },
    { key: 'ArrowUp', run: walk(-1) },
    {
      key: 'Tab',
      run: () => {
        const { list, here, put } = act.current
        if (list.length === 0) return false
        put(list[Math.max(here, 0)])
        return true
      },
    },
    { key: 'Mod-Enter', run: () => (act.current.keep(), true) },
    {
      key: 'Enter',
      run: () => {
        const { list, here, put, keep, single } = act.current
        if (single && list[here]) put(list[here])
        else if (single) keep()
        return Boolean(single)
      },
    },
    {
      key: 'Escape',
      run: () => {
        act.current.leave?.()
        return Boolean(act.current.leave)
      },
    },
  ]
}

/** Text that is pasted or filled into one line loses its ends of lines. */
const oneLine = (transaction: Transaction) =>
  transaction.docChanged && transaction.newDoc.lines > 1
    ? [
        transaction,
        {
          changes: {
            from: 0,
            to: transaction.newDoc.length,
            insert: transaction.newDoc
              .toString()
              .replace(/\s*\n\s*/g, ' ')
              .trim(),
          },
          sequential: true,
        },
      ]
    : transaction

const invalid = new Compartment()
const setWrong = StateEffect.define<Wrong[]>()
const mark = Decoration.mark({ tagName: 'mark' })
const wrongField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    let now = marks.map(transaction.changes)
    for (const effect of transaction.effects)
      if (effect.is(setWrong)) {
        const end = transaction.state.doc.length
        const places = effect.value
          .map(({ from, to }) => ({ from: Math.min(from, end), to: Math.min(Math.max(to, from + 1), end) }))
          .filter(({ from, to }) => to > from)
        now = Decoration.set(
          places.map(({ from, to }) => mark.range(from, to)),
          true,
        )
      }
    return now
  },
  provide: (field) => EditorView.decorations.from(field),
})

const look = EditorView.theme({
  '&': { color: 'var(--ink)', minHeight: 'inherit' },
  '&.cm-focused': { outline: 'none' },
  '.cm-scroller': { fontFamily: 'inherit', lineHeight: 'inherit', overflow: 'auto' },
  '.cm-content': { padding: '8px 0', caretColor: 'var(--ink)' },
  '.cm-line': { padding: '0 14px', overflowWrap: 'anywhere' },
  '.cm-placeholder': { color: 'var(--muted)' },
  mark: {
    background: 'var(--copper-wash)',
    color: 'inherit',
    textDecoration: 'underline wavy var(--copper) 2px',
    textUnderlineOffset: '4px',
  },
})
