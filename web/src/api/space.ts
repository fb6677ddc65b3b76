/** The space that this window is in: its address stands before every view, /in/3-thornwick-apiaries/dataset/4/chart. */
const found = /^\/in\/(\d+)[^/]*/.exec(globalThis.location?.pathname ?? '')

/** Before the paths of all views; '' where the address names no space. */
export const base = found?.[0] ?? ''
/** Its number; '' where the address names none: then it is the one where somebody was last. */
export const spaceId = found?.[1] ?? ''

/** An address that the browser asks for by itself, about this space. */
export const inSpace = (address: string): string => (spaceId ? `${address}${address.includes('?') ? '&' : '?'}space=${spaceId}` : address)

export const SPACE_HEADER = 'Lark-Space'
