/** The kinds of column, in the order in which they are offered; what the screen asks of one stands in its row. The list of core/table/kinds.go. */
export const KINDS = [
  { name: 'number', such: 'amounts, such as 12.5', amount: true },
  { name: 'category', such: 'groups, such as districts', groups: true },
  { name: 'ordered', such: 'groups with an order, such as low, medium, high', groups: true },
  { name: 'yes / no', such: 'one of two, such as fed or not', groups: true },
  { name: 'date', such: 'days and moments, such as 2031-05-04', moment: true },
  { name: 'duration', such: 'how long, such as 1:45:00', amount: true },
  { name: 'text', such: 'names and remarks, each of its own' },
] as {
  such: string
  name: string
  amount?: boolean
  moment?: boolean
  groups?: boolean
}[]

const kind = (name: string) => KINDS.find((k) => k.name === name)

/** Whether values of a kind are amounts: numbers and durations. */
export const isAmount = (name: string) => Boolean(kind(name)?.amount)
/** Whether values of a kind are spread along an axis: amounts and moments. */
export const isSpread = (name: string) => isAmount(name) || Boolean(kind(name)?.moment)
/** Whether values of a kind are groups. */
export const isGroups = (name: string) => Boolean(kind(name)?.groups)
