/** The letter of one of two charts that are compared. */
export const Letter = ({ of, chosen }: { of: 'A' | 'B'; chosen?: boolean }) => (
  <span
    className={`inline-grid size-5.5 shrink-0 place-items-center rounded-full text-[12px] font-semibold ${chosen ? 'bg-copper text-paper' : 'bg-bar text-bar-ink'}`}
    title={chosen ? `The arrow keys move ${of}` : undefined}
  >
    {of}
  </span>
)
