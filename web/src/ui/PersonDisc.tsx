import { initials, personColour } from './initials'

/** The disc of a person. Named says whether it is all that tells who it is. */
export const PersonDisc = ({ name, id, size, named = true }: { name: string; id: number; size: string; named?: boolean }) => (
  <span
    role={named ? 'img' : undefined}
    aria-label={named ? name : undefined}
    aria-hidden={!named || undefined}
    title={name}
    className={`grid shrink-0 place-items-center rounded-full font-semibold text-white ${size}`}
    style={{ background: personColour(id) }}
  >
    {initials(name)}
  </span>
)
