/** A colour of each theme with the class of what shows only in it. */
export const inThemes = (light?: string, dark?: string): [string | undefined, string][] => [
  [light, 'dark:hidden'],
  [dark, 'hidden dark:block'],
]
