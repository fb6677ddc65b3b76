import type { Basis } from '../figure/figure'

/** The sign of what something is of: a filled disc for all rows, a ring for the sample. */
export function BasisDot({ basis, label }: { basis: Basis; label?: string }) {
  const look = basis === 'all' ? 'bg-verdigris' : 'border-2 border-copper'
  return (
    <span
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      title={label}
      className={`inline-block size-2.5 shrink-0 rounded-full ${look}`}
    />
  )
}

/** The sign of one of several things, of rows elsewhere: nothing where it is of none. */
export const OneBasis = ({ basis, sample }: { basis?: Basis; sample: string }) =>
  basis ? <BasisDot basis={basis} label={basisWords(basis, sample)} /> : null

/** Says which rows something is of. */
export function BasisSign({ basis, sample }: { basis: Basis; sample: string }) {
  return (
    <span className="mt-0.5 flex items-center gap-2 text-[13px] text-muted">
      <BasisDot basis={basis} />
      {basisWords(basis, sample)}
    </span>
  )
}

/** In words; sample is how many rows are in it. */
export const basisWords = (basis: Basis, sample: string) =>
  basis === 'all' ? 'exact, over all rows' : `from ${sample} rows drawn at random`
