const DAY = 86_400_000

/** When something was, in words as short as they can be: today, 9:14 · yesterday · 8 March · 8 March 2031. */
export function moment(at: string, now = new Date()): string {
  const then = new Date(at)
  const start = (day: Date) => new Date(day.getFullYear(), day.getMonth(), day.getDate()).getTime()
  const days = Math.round((start(now) - start(then)) / DAY)
  const clock = `${then.getHours()}:${String(then.getMinutes()).padStart(2, '0')}`
  if (days === 0) return `today, ${clock}`
  if (days === 1) return 'yesterday'
  if (days === -1) return 'tomorrow'
  const year = then.getFullYear() === now.getFullYear() ? undefined : 'numeric'
  return then.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year })
}
