/** How a menu and what stands in it look. */
export const MENU = 'z-20 min-w-52 rounded-lg border border-line bg-strip p-1.5 text-sm text-ink shadow-xl'
export const ITEM =
  'block cursor-pointer rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper'
