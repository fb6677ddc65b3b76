import type { Role } from '../../api/client'

/** The roles, the highest first, with their plurals. */
export const ROLES: [Role, string][] = [
  ['owner', 'owners'],
  ['maker', 'makers'],
  ['reader', 'readers'],
]

/** A change that an owner asks for: it is done, or what is wrong stands above. */
export type Change = (work: Promise<unknown>) => Promise<boolean>
