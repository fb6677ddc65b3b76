import { baseKeymap, setBlockType, toggleMark, wrapIn } from 'prosemirror-commands'
import { history, redo, undo } from 'prosemirror-history'
import { inputRules, textblockTypeInputRule, wrappingInputRule } from 'prosemirror-inputrules'
import { keymap } from 'prosemirror-keymap'
import type { Mark, NodeType } from 'prosemirror-model'
import { liftListItem, sinkListItem, splitListItem, wrapInList } from 'prosemirror-schema-list'
import { EditorState, Plugin, type Command } from 'prosemirror-state'
import { Decoration, DecorationSet, EditorView } from 'prosemirror-view'
import { useEffect, useImperativeHandle, useRef, useState, type Ref } from 'react'
import { fromMarkdown, schema, toMarkdown } from './markdown'

/** What can be done with a text from outside it. */
export interface TextHand {
  /** Writes words of a reading at the caret. */
  tie: (key: string, words: string) => void
  focus: () => void
}

/** Tied words that were pressed, and where they stand in the window. */
export interface PressedTie {
  key: string
  state: string
  words: string
  left: number
  top: number
  /** They become plain text. */
  untie: () => void
  /** The writer has seen what changed. */
  noted: () => void
}

const list = (type: NodeType): Command => wrapInList(type)

/** The words that a text can be made with, in the order of the row under it. */
const WAYS: { name: string; title: string; run: Command }[] = [
  { name: 'bold', title: 'Bold, Ctrl-B', run: toggleMark(schema.marks.strong) },
  { name: 'italic', title: 'Italic, Ctrl-I', run: toggleMark(schema.marks.em) },
  {
    name: 'heading',
    title: 'Heading: also ## and a space',
    run: (state, dispatch) => {
      const is = state.selection.$from.parent.type === schema.nodes.heading
      return is ? setBlockType(schema.nodes.paragraph)(state, dispatch) : setBlockType(schema.nodes.heading, { level: 2 })(state, dispatch)
    },
  },
  { name: 'list', title: 'List: also - and a space', run: list(schema.nodes.bullet_list) },
  { name: 'numbers', title: 'Numbered list: also 1. and a space', run: list(schema.nodes.ordered_list) },
  { name: 'quote', title: 'Quote: also > and a space', run: wrapIn(schema.nodes.blockquote) },
]

const rules = inputRules({
  rules: [
    textblockTypeInputRule(/^(#{1,4})\s$/, schema.nodes.heading, (match) => ({ level: match[1].length })),
    wrappingInputRule(/^\s*([-+*])\s$/, schema.nodes.bullet_list),
    wrappingInputRule(/^(\d+)\.\s$/, schema.nodes.ordered_list, (match) => ({ order: Number(match[1]) })),
    wrappingInputRule(/^\s*>\s$/, schema.nodes.blockquote),
  ],
})

const keys = keymap({
  'Mod-z': undo,
  'Mod-y': redo,
  'Mod-Shift-z': redo,
  'Mod-b': toggleMark(schema.marks.strong),
  'Mod-i': toggleMark(schema.marks.em),
  Enter: splitListItem(schema.nodes.list_item),
  'Mod-]': sinkListItem(schema.nodes.list_item),
  'Mod-[': liftListItem(schema.nodes.list_item),
  'Shift-Enter': (state, dispatch) => {
    dispatch?.(state.tr.replaceSelectionWith(schema.nodes.hard_break.create()).scrollIntoView())
    return true
  },
})

const says = (words: string) =>
  new Plugin({
    props: {
      decorations: ({ doc }) =>
        doc.childCount === 1 && doc.firstChild!.isTextblock && doc.firstChild!.content.size === 0
          ? DecorationSet.create(doc, [Decoration.node(0, doc.firstChild!.nodeSize, { class: 'empty', 'data-says': words })])
          : null,
    },
  })

const stateOf = (text: string, hint: string) =>
  EditorState.create({ doc: fromMarkdown(text), plugins: [says(hint), history(), rules, keys, keymap(baseKeymap)] })

/** What a text is called, for a screen reader. */
const called = (label: string, writes: boolean): Record<string, string> =>
  writes ? { role: 'textbox', 'aria-multiline': 'true', 'aria-label': label } : { role: 'group', 'aria-label': label }

/** A text of a page, edited in place. */
export function TextEditor({
  text,
  label,
  hint,
  writes,
  onChange,
  onFocus,
  onTie,
  ref,
}: {
  text: string
  label: string
  hint: string
  /** Whether it is written in, or only read. */
  writes: boolean
  onChange: (text: string) => void
  onFocus: () => void
  onTie: (tie: PressedTie) => void
  ref: Ref<TextHand>
}) {
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const said = useRef(text)
  const calls = useRef({ onChange, onFocus, onTie, writes })
  const [focused, setFocused] = useState(false)
  const [linking, setLinking] = useState<string | null>(null)
  useEffect(() => {
    calls.current = { onChange, onFocus, onTie, writes }
  })
  useEffect(() => {
    const editor: EditorView = new EditorView(host.current!, {
      state: stateOf(text, hint),
      attributes: called(label, writes),
      editable: () => calls.current.writes,
      dispatchTransaction(tr) {
        editor.updateState(editor.state.apply(tr))
        if (!tr.docChanged) return
        const now = toMarkdown(editor.state.doc)
        if (now === said.current) return
        said.current = now
        calls.current.onChange(now)
      },
      handleDOMEvents: {
        focus: () => {
          setFocused(true)
          calls.current.onFocus()
          return false
        },
      },
      handleClick: (_, pos, event) => calls.current.writes && pressedTie(editor, pos, event, calls.current.onTie),
    })
    view.current = editor
    return () => editor.destroy()
    // What others write arrives by the effect below.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])
  useEffect(() => view.current?.setProps({ attributes: called(label, writes) }), [label, writes])
  useEffect(() => {
    if (text === said.current || !view.current) return
    said.current = text
    view.current.updateState(stateOf(text, hint))
  }, [text, hint])
  useImperativeHandle(ref, () => ({
    tie: (key, words) => {
      const editor = view.current!
      const { state } = editor
      const { from } = state.selection
      const before = state.doc.textBetween(Math.max(0, from - 1), from, '\n')
      const tr = state.tr
      if (before && !/[\s(“"]/.test(before)) tr.insertText(' ')
      tr.replaceSelectionWith(schema.text(words, [schema.marks.tie.create({ key })]), false)
      const after = tr.selection.to
      if (/^[^\s).,;:!?”"]/.test(tr.doc.textBetween(after, Math.min(after + 1, tr.doc.content.size), '\n'))) tr.insertText(' ')
      editor.dispatch(tr.removeStoredMark(schema.marks.tie).scrollIntoView())
      editor.focus()
    },
    focus: () => view.current?.focus(),
  }))
  const run = (command: Command) => {
    const editor = view.current!
    command(editor.state, editor.dispatch)
    editor.focus()
  }
  const link = (address: string) => {
    setLinking(null)
    const href = /^[a-z]+:/i.test(address) ? address : `https://${address}`
    run(address.trim() ? toggleMark(schema.marks.link, { href }) : () => false)
  }
  return (
    <div
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) setFocused(false)
      }}
    >
      <div ref={host} className="page-text" />
      {focused && writes && (
        <div
          className="absolute -bottom-[15px] left-5 z-10 flex max-w-[calc(100%-40px)] flex-wrap gap-x-3 rounded-lg border-[1.5px] border-copper bg-paper px-2.5 py-0.5 text-[12.5px]"
          role="group"
          aria-label="How the text is written"
        >
          {WAYS.map((way) => (
            <button
              key={way.name}
              type="button"
              className="min-h-6 min-w-6 font-medium text-copper hover:underline"
              title={way.title}
              onClick={() => run(way.run)}
            >
              {way.name}
            </button>
          ))}
          {linking === null ? (
            <button
              type="button"
              className="min-h-6 min-w-6 font-medium text-copper hover:underline"
              title="Link: choose words first"
              onClick={() => setLinking('')}
            >
              link
            </button>
          ) : (
            <form
              onSubmit={(e) => {
                e.preventDefault()
                link(linking)
              }}
            >
              <input
                className="field px-2 py-0.5 text-[12.5px]"
                aria-label="Where the chosen words lead"
                placeholder="https://…"
                autoFocus
                value={linking}
                onChange={(e) => setLinking(e.target.value)}
                onKeyDown={(e) => e.key === 'Escape' && setLinking(null)}
              />
            </form>
          )}
        </div>
      )}
    </div>
  )
}

/** Tells of tied words that are pressed: reports whether there were any. */
function pressedTie(editor: EditorView, pos: number, event: MouseEvent, tell: (tie: PressedTie) => void): boolean {
  const node = editor.state.doc.nodeAt(pos)
  const mark = node?.marks.find((m) => m.type === schema.marks.tie)
  const element = (event.target as HTMLElement).closest('[data-tie]')
  if (!node || !mark || !element) return false
  const $pos = editor.state.doc.resolve(pos)
  const start = pos - $pos.textOffset
  const end = start + node.nodeSize
  const box = element.getBoundingClientRect()
  const remade = (next: Mark | null) => {
    const tr = editor.state.tr.removeMark(start, end, schema.marks.tie)
    editor.dispatch(next ? tr.addMark(start, end, next) : tr)
    editor.focus()
  }
  tell({
    key: mark.attrs.key as string,
    state: mark.attrs.state as string,
    words: node.text ?? '',
    left: box.left,
    top: box.bottom,
    untie: () => remade(null),
    noted: () => remade(schema.marks.tie.create({ key: mark.attrs.key as string })),
  })
  return true
}
