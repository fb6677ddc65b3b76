/** What is looked for on the front page. */
export interface Wanted {
  find: string
  dataset: number
  maker: number
  order: Order
  state: State
}

/** Which charts are shown: those that are kept, with the tries under them; those that are shared; tries alone. */
export type State = 'kept' | 'shared' | 'try'

export const STATES: { state: State; name: string }[] = [
  { state: 'kept', name: 'kept and tried' },
  { state: 'shared', name: 'shared' },
  { state: 'try', name: 'tries alone' },
]

export type Order = 'changed' | 'name' | 'maker'

/** How charts can be put in order; the first without being said. */
export const ORDERS: { order: Order; name: string }[] = [
  { order: 'changed', name: 'last changed first' },
  { order: 'name', name: 'by name' },
  { order: 'maker', name: 'by maker' },
]

export const NOTHING_WANTED: Wanted = { find: '', dataset: 0, maker: 0, order: 'changed', state: 'kept' }

/** Whether anything is looked for. */
export const isWanted = ({ find, dataset, maker, state }: Wanted): boolean =>
  find.trim() !== '' || dataset !== 0 || maker !== 0 || state !== NOTHING_WANTED.state
