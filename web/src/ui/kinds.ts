/** The kinds of column, in the order in which they are offered; what the screen asks of one stands in its row. The list of core/table/kinds.go. */
export const KINDS = [
  { name: 'number', amount: true },
  { name: 'category', groups: true },
  { name: 'ordered', groups: true },
  { name: 'yes / no', groups: true },
  { name: 'date', moment: true },
  { name: 'duration', amount: true },
  { name: 'text' },
] as { name: string; amount?: boolean; moment?: boolean; groups?: boolean }[]

const kind = (name: string) => KINDS.find((k) => k.name === name)

/** Whether values of a kind are amounts: numbers and durations. */
export const isAmount = (name: string) => Boolean(kind(name)?.amount)
/** Whether values of a kind are spread along an axis: amounts and moments. */
export const isSpread = (name: string) => isAmount(name) || Boolean(kind(name)?.moment)
/** Whether values of a kind are groups. */
export const isGroups = (name: string) => Boolean(kind(name)?.groups)
