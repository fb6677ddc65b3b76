import type { PageHand } from './usePage'

/** Between two blocks: what can be put there. */
export function Between({ after, hand, last = false }: { after: string; hand: PageHand; last?: boolean }) {
  return (
    <div
      className={`flex items-center gap-4 px-5 text-[12.5px] focus-within:opacity-100 hover:opacity-100 ${last ? 'py-2' : 'h-4 opacity-0'}`}
    >
      <button type="button" className="link" onClick={() => hand.writeAfter(after)}>
        write here
      </button>
      <button
        type="button"
        className="link"
        onClick={() => {
          hand.setHere(after)
          document.getElementById('find-a-chart')?.focus()
        }}
      >
        put a chart here
      </button>
    </div>
  )
}
