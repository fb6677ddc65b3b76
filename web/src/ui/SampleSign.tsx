/** Says that rows are a sample of a larger table: a ring, where a filled disc would be all rows. */
export function SampleSign({ drawn }: { drawn: string }) {
  return (
    <p className="flex items-baseline gap-2 text-[13px] wrap-anywhere text-muted">
      <span aria-hidden className="size-2.5 shrink-0 translate-y-px rounded-full border-2 border-copper" />
      <span>a sample: {drawn}</span>
    </p>
  )
}
