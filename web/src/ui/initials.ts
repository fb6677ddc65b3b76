/** The first letters of the first two words of a name. */
export const initials = (name: string): string =>
  name
    .split(/\s+/)
    .map((word) => [...word][0])
    .slice(0, 2)
    .join('')
    .toUpperCase()

/** White has 4.5:1 and more on each. */
const COLOURS = ['#3c7069', '#1f5fa8', '#6a1b5e', '#704254', '#8a5a0b', '#2b3b8c', '#7a3b1d', '#3f6b2a']

/** The colour of somebody's disc, the same everywhere. */
export const personColour = (id: number): string => COLOURS[id % COLOURS.length]
