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

/** Of what is printed without colours; marks are turned to greys by the page (reader.css). */
export const INK: Theme = { ...LIGHT, ink: '#000000', muted: '#333333', line: '#d9d9d9' }

/** What a person chose instead of following the system; none: it follows. */
export type Choice = 'light' | 'dark' | ''

const CHOICE = 'lark-theme'
const CHOSEN = 'lark-theme-chosen'

/** The choice that is kept in this browser. */
export function themeChoice(): Choice {
  try {
    const kept = localStorage.getItem(CHOICE)
    return kept === 'light' || kept === 'dark' ? kept : ''
  } catch {
    return '' // the browser keeps nothing
  }
}

/** Shows the window in what was chosen, and keeps it for the next time. */
export function chooseTheme(choice: Choice): void {
  try {
    if (choice) localStorage.setItem(CHOICE, choice)
    else localStorage.removeItem(CHOICE)
  } catch {
    // for this window alone, then
  }
  showTheme(choice)
}

/** Shows the window in light or dark, or as the system is. */
export function showTheme(choice: Choice): void {
  if (choice) document.documentElement.dataset.theme = choice
  else delete document.documentElement.dataset.theme
  dispatchEvent(new Event(CHOSEN))
}

/** The theme that the window is in. */
export function themeNow(): Theme {
  const chosen = document.documentElement.dataset.theme
  return (chosen ? chosen === 'dark' : darkness().matches) ? DARK : LIGHT
}

/** Tells when the theme turns; gives what ends the telling. */
export function whenThemeTurns(listener: () => void): () => void {
  const turning = darkness()
  turning.addEventListener('change', listener)
  addEventListener(CHOSEN, listener)
  return () => {
    turning.removeEventListener('change', listener)
    removeEventListener(CHOSEN, listener)
  }
}

export const shade = (theme: Theme, of: { light?: string; dark?: string }) => (theme.dark ? of.dark : of.light) ?? theme.neutral
