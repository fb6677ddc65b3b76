/** Text of a page as the editor has it: CommonMark, words that are tied to a reading, and small tables as they are typed. */
import { defaultMarkdownParser, defaultMarkdownSerializer, MarkdownParser, MarkdownSerializer, schema as plain } from 'prosemirror-markdown'
import { Schema, type Node } from 'prosemirror-model'

export const TIE = 'reading:'
export const GONE = 'gone'
export const WAS = 'was: '

/** Marks a fenced block as a table: in Markdown it stands as it is typed. */
const TABLE = 'lark-table'

export const schema = new Schema({
  nodes: plain.spec.nodes.remove('image').update('heading', { ...plain.spec.nodes.get('heading')!, content: 'text*' }),
  marks: plain.spec.marks.addToStart('tie', {
    attrs: { key: {}, state: { default: '' } },
    inclusive: false,
    excludes: '_',
    parseDOM: [
      {
        tag: 'span[data-tie]',
        getAttrs: (node) => ({ key: node.getAttribute('data-tie'), state: node.getAttribute('data-state') ?? '' }),
      },
    ],
    toDOM: ({ attrs }) => [
      'span',
      {
        class: 'tie',
        'data-tie': attrs.key as string,
        'data-state': attrs.state as string,
        title:
          attrs.state === GONE
            ? 'The chart no longer says this'
            : (attrs.state as string).startsWith(WAS)
              ? `It said “${(attrs.state as string).slice(WAS.length)}”`
              : 'From the reading; follows the chart',
      },
      0,
    ],
  }),
})

const tokenizer = defaultMarkdownParser.tokenizer
// Links to a reading are ties; pictures are their words.
tokenizer.core.ruler.push('ties', (state) => {
  for (const block of state.tokens) {
    const open: boolean[] = []
    for (const token of block.children ?? []) {
      if (token.type === 'link_open') {
        const tied = token.attrGet('href')?.startsWith(TIE) ?? false
        open.push(tied)
        if (tied) token.type = 'tie_open'
      } else if (token.type === 'link_close' && open.pop()) token.type = 'tie_close'
      else if (token.type === 'image') token.type = 'text'
    }
  }
})

const parser = new MarkdownParser(
  schema,
  tokenizer,
  Object.fromEntries([
    ...Object.entries(defaultMarkdownParser.tokens).filter(([name]) => name !== 'image'),
    ['tie', { mark: 'tie', getAttrs: (token) => ({ key: token.attrGet('href')!.slice(TIE.length), state: token.attrGet('title') ?? '' }) }],
  ] as [string, (typeof defaultMarkdownParser.tokens)[string]][]),
)

const quoted = (text: string) => text.replace(/[\\"]/g, '\\$&')

const serializer = new MarkdownSerializer(
  {
    ...defaultMarkdownSerializer.nodes,
    code_block(state, node, parent, index) {
      if (node.attrs.params !== TABLE) return defaultMarkdownSerializer.nodes.code_block(state, node, parent, index)
      state.text(node.textContent, false)
      state.closeBlock(node)
    },
  },
  {
    ...defaultMarkdownSerializer.marks,
    tie: {
      open: '[',
      close: (_, mark) => `](${TIE}${mark.attrs.key}${mark.attrs.state ? ` "${quoted(mark.attrs.state as string)}"` : ''})`,
    },
  },
)

const RULE = /^\s*\|?\s*:?-+:?\s*(\|\s*:?-+:?\s*)*\|?\s*$/

/** Tables become fenced blocks, which the editor keeps as they are typed. */
function fencedTables(text: string): string {
  const lines = text.split('\n')
  const out: string[] = []
  let fence = ''
  for (let i = 0; i < lines.length; i++) {
    const opens = /^\s*(```+|~~~+)/.exec(lines[i])?.[1]
    if (opens) fence = fence ? (lines[i].trim().startsWith(fence) ? '' : fence) : opens
    if (fence || !lines[i].includes('|') || !lines[i + 1]?.includes('|') || !RULE.test(lines[i + 1])) {
      out.push(lines[i])
      continue
    }
    out.push('```' + TABLE)
    for (; i < lines.length && lines[i].includes('|'); i++) out.push(lines[i])
    i--
    out.push('```')
  }
  return out.join('\n')
}

export const fromMarkdown = (text: string): Node => parser.parse(fencedTables(text))
export const toMarkdown = (doc: Node): string => serializer.serialize(doc, { tightLists: true }).trimEnd()
