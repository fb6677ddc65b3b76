import { createContext, useContext } from 'react'
import type { Me, Role } from '../api/client'

/** The roles, each of which may do what those before it may. */
export const ROLES: Role[] = ['reader', 'maker', 'owner']

/** Whether somebody's role in the space goes so far; the server decides it, this only spares them buttons that refuse. */
export const may = (me: Pick<Me, 'role'>, least: Role): boolean => ROLES.indexOf(me.role as Role) >= ROLES.indexOf(least)

/** Whether whoever looks may bring tables, and make, keep and share charts. */
export const Makes = createContext(true)
export const useMakes = (): boolean => useContext(Makes)
