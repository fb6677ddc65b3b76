/** Where menus and forms stand over the page: a landmark of its own, which is there while something is open. */
export const over = (): HTMLElement | null => document.getElementById('over')
