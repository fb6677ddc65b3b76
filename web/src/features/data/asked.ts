import type { Origin } from '../../api/client'

export type Asked = Origin['every']

/** How often an origin is asked. */
export const ASKED: { every: Asked; says: string }[] = [
  { every: 'never', says: 'when it is asked here' },
  { every: 'hour', says: 'every hour' },
  { every: 'day', says: 'every day' },
  { every: 'week', says: 'every week' },
]
