/** The colours of paper and ink; marks bring their own from the figure. */
export interface Theme {
  dark: boolean
  paper: string
  ink: string
  muted: string
  line: string
  neutral: string
  copper: string
  font: string
  serif: string
}

const SERIF = '"Literata", Georgia, serif'
export const FONT = '"Hanken Grotesk", system-ui, sans-serif'

export const LIGHT: Theme = {
  dark: false,
  paper: '#ffffff',
  ink: '#16302e',
  muted: '#58706c',
  line: '#dfe7e5',
  neutral: '#2f6d64',
  copper: '#a8501a',
  font: FONT,
  serif: SERIF,
}
export const DARK: Theme = {
  dark: true,
  paper: '#172e2c',
  ink: '#e3efec',
  muted: '#94ada8',
  line: '#2b4744',
  neutral: '#6fb9ad',
  copper: '#e59a62',
  font: FONT,
  serif: SERIF,
}

const darkness = () => matchMedia('(prefers-color-scheme: dark)')

/** The theme that the window is in. */
export const themeNow = (): Theme => (darkness().matches ? DARK : LIGHT)

/** Tells when the theme turns; gives what ends the telling. */
export function whenThemeTurns(listener: () => void): () => void {
  const turning = darkness()
  turning.addEventListener('change', listener)
  return () => turning.removeEventListener('change', listener)
}

export const shade = (theme: Theme, of: { light?: string; dark?: string }) => (theme.dark ? of.dark : of.light) ?? theme.neutral
