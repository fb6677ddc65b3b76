import type { Document, Explanations } from '../../api/client'

export type Finding = NonNullable<Explanations['findings']>[number]

export const LOUD = ['reverses', 'explains away', 'hides']
export const NOTED = ['weakens', 'strengthens', 'differs']
const QUIET = ['cannot tell', 'too alike', 'too little to say']

/** How a verdict is coloured: what a reader must not miss stands out most. */
export const verdictWash = (verdict: string): string =>
  LOUD.includes(verdict)
    ? 'bg-[#f6d9c4] dark:bg-[#6b3a17]'
    : NOTED.includes(verdict)
      ? 'bg-[#f4e8c6] dark:bg-[#57481a]'
      : QUIET.includes(verdict)
        ? 'bg-wash'
        : 'bg-verdigris-wash'

/** The chart coloured by a column, with a line for each of its groups beside the one of all rows. */
export function splitBy(document: Document, column: string): Document {
  const layers = document.layers ?? []
  const first = layers.findIndex((l) => l.fit)
  const fitted = { mark: 'fit', fit: { kind: 'line' as const, ...layers[first]?.fit, each: column, overall: true } }
  const split =
    first < 0
      ? [...layers.filter((l) => l.mark !== 'reference'), fitted, ...layers.filter((l) => l.mark === 'reference')]
      : layers.map((l, i) => (i === first ? fitted : l))
  return { ...document, take_out: undefined, colour: column, layers: split }
}

/** The part of a document that decides which rows stand where: colours and fits do not change the relation. */
export const relationOf = ({ version, where, x, y, scales }: Document): Document => ({ version, where, x, y, scales })
