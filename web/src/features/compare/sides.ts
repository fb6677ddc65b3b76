import type { ComparedSides } from '../../api/client'

/** One of the two. */
export type SideName = 'a' | 'b'

/** Which two charts are compared, as the address says it. */
export function sidesOf(search: URLSearchParams): ComparedSides {
  const number = (name: string) => Number(search.get(name)) || 0
  return {
    a: number('a'),
    a_step: number('a_step'),
    a_version: number('a_version'),
    b: number('b'),
    b_step: number('b_step'),
    b_version: number('b_version'),
  }
}

/** The address of a comparison in the view of a dataset. */
export function compareAddress(dataset: number, sides: ComparedSides): string {
  const said = Object.entries(sides).filter(([, value]) => value)
  return `/dataset/${dataset}/compare?${said.map(([name, value]) => `${name}=${value}`).join('&')}`
}

/** The same two, the other way round. */
export const swapped = ({ a, a_step, a_version, b, b_step, b_version }: ComparedSides): ComparedSides => ({
  a: b,
  a_step: b_step,
  a_version: b_version,
  b: a,
  b_step: a_step,
  b_version: a_version,
})

/** What is dragged from the trail onto a chart. */
export const STEP_DRAGGED = 'application/x-lark-step'
