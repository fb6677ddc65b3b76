/** How a pressable word of a sentence looks: a column, or a way of doing something. */
export const wordLook = (role?: 'column' | 'way', leading = 'leading-[26px]'): string =>
  `border-b-2 ${leading} ${role === 'way' ? 'text-verdigris border-verdigris border-dotted' : 'text-copper border-copper font-semibold'}`
