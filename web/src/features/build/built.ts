/** A group with its own number of rows and slope where it has them. */
export interface BuiltGroup {
  name: string
  x: number
  y: number
  spread: number
  slope?: number
  rows?: number
}

/** A table of groups that is built by hand; places go from 0 to 100 along both axes. */
export interface Built {
  groups: BuiltGroup[]
  slope: number
  noise: number
  rows: number
}

const NAMES = ['Low Fen', 'Brindle', 'Ashcombe', 'Tarn', 'Scarhead', 'Whinmoor']

export const START: Built = {
  groups: [
    { name: NAMES[0], x: 22, y: 74, spread: 6 },
    { name: NAMES[1], x: 48, y: 52, spread: 6 },
    { name: NAMES[2], x: 74, y: 28, spread: 6 },
  ],
  slope: 0.9,
  noise: 4,
  rows: 60,
}

const within = (v: number, low: number, high: number) => Math.max(low, Math.min(high, v))
const tenths = (v: number) => Math.round(v * 10) / 10

/** How many standard deviations before its centre a group's line is taken hold of. */
export const REACH = 2

/** Moves the centre of a group. */
export function moved(built: Built, group: number, x: number, y: number): Built {
  return {
    ...built,
    groups: built.groups.map((g, i) => (i === group ? { ...g, x: tenths(within(x, 0, 100)), y: tenths(within(y, 0, 100)) } : g)),
  }
}

/** Puts the beginning of a group's line somewhere: how far from the centre it lies is the group's spread, and how steep the slope of all. */
export function stretched(built: Built, group: number, x: number, y: number): Built {
  const { x: cx, y: cy } = built.groups[group]
  const reach = within(cx - x, 2, 60)
  const slope = Math.round(within((cy - y) / reach, -10, 10) * 100) / 100
  const own = built.groups[group].slope !== undefined
  return {
    ...built,
    slope: own ? built.slope : slope,
    groups: built.groups.map((g, i) => (i === group ? { ...g, spread: tenths(reach / REACH), ...(own && { slope }) } : g)),
  }
}

/** What a group says for itself, and what a field of it may be. */
export const FIELDS = [
  { name: 'rows', says: 'rows', low: 3, high: 500, step: 1, of: (b: Built, g: BuiltGroup) => g.rows ?? b.rows },
  { name: 'spread', says: 'spread', low: 0.1, high: 60, step: 0.5, of: (_: Built, g: BuiltGroup) => g.spread },
  { name: 'slope', says: 'slope', low: -10, high: 10, step: 0.1, of: (b: Built, g: BuiltGroup) => g.slope ?? b.slope },
] as const

/** Gives one group a number of its own. */
export const withOwn = (built: Built, group: number, { name, low, high }: (typeof FIELDS)[number], value: number): Built => ({
  ...built,
  groups: built.groups.map((g, i) =>
    i === group ? { ...g, [name]: name === 'rows' ? Math.round(within(value, low, high)) : within(value, low, high) } : g,
  ),
})

/** Where a group's line is taken hold of: at its beginning, as names stand at the ends. */
export const endOf = ({ groups, slope }: Built, group: number) => ({
  x: groups[group].x - REACH * groups[group].spread,
  y: groups[group].y - (groups[group].slope ?? slope) * REACH * groups[group].spread,
})

export function withGroup(built: Built): Built {
  const name = NAMES.find((n) => !built.groups.some((g) => g.name === n))!
  return { ...built, groups: [...built.groups, { name, x: 50, y: 80, spread: 6 }] }
}

export const withoutGroup = (built: Built): Built => ({ ...built, groups: built.groups.slice(0, -1) })
