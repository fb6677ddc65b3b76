import type { Here } from '../../api/client'
import { PersonDisc } from '../../ui/PersonDisc'

/** The discs of those who have the same open, too. */
export function Others({ here }: { here: Here[] }) {
  if (here.length === 0) return null
  const shown = here.slice(0, 4)
  return (
    <ul aria-label="Here now" className="flex items-center gap-1">
      {shown.map((person) => (
        <li key={person.person_id}>
          <PersonDisc name={person.name} id={person.person_id} size="size-7 text-[11px] ring-[1.5px] ring-bar-muted" />
        </li>
      ))}
      {here.length > shown.length && <li className="text-[13px] text-bar-muted">+{here.length - shown.length}</li>}
      <li aria-hidden className="ml-2.5 h-5 w-px bg-bar-muted/50" />
    </ul>
  )
}
