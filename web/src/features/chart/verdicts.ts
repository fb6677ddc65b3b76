import type { Explanations } from '../../api/client'

export type Finding = NonNullable<Explanations['findings']>[number]

export const LOUD = ['reverses', 'explains away', 'hides']
export const NOTED = ['weakens', 'strengthens', 'differs']
const QUIET = ['cannot tell', 'too alike', 'too little to say']

/** How a verdict is coloured: what a reader must not miss stands out most. */
export const verdictWash = (verdict: string): string =>
  LOUD.includes(verdict)
    ? 'bg-[#f6d9c4] dark:bg-[#6b3a17]'
    : NOTED.includes(verdict)
      ? 'bg-[#f4e8c6] dark:bg-[#57481a]'
      : QUIET.includes(verdict)
        ? 'bg-wash'
        : 'bg-verdigris-wash'
