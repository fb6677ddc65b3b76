/** The drawn sign of a column's kind: a ruler, three loose dots, stairs, a half disc, a sun's arc, an hourglass, a quote mark. */
export function KindSign({ kind, className = 'size-4' }: { kind: string; className?: string }) {
  const stroke = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.5, strokeLinecap: 'round', strokeLinejoin: 'round' } as const
  return (
    <svg viewBox="0 0 16 16" className={`shrink-0 text-verdigris ${className}`} role="img" aria-label={kind}>
      <title>{kind}</title>
      {kind === 'number' && (
        <g {...stroke}>
          <path d="M1.500 5.500h13v5h-13z" />
          <path d="M4.500 5.500v2.200M7.500 5.500v3M10.500 5.500v2.200" />
        </g>
      )}
      {kind === 'category' && (
        <g fill="currentColor">
          <circle cx="4.200" cy="5" r="2" />
          <circle cx="11.600" cy="6.300" r="2" />
          <circle cx="6.800" cy="12" r="2" />
        </g>
      )}
      {kind === 'ordered' && <path {...stroke} d="M1.500 13.500h4v-4h4v-4h4v-3" />}
      {kind === 'yes / no' && (
        <g>
          <circle {...stroke} cx="8" cy="8" r="5.800" />
          <path fill="currentColor" d="M8 2.200a5.800 5.800 0 0 1 0 11.600z" />
        </g>
      )}
      {kind === 'date' && (
        <g {...stroke}>
          <path d="M2 12.500a6 6 0 0 1 12 0" />
          <path d="M.8 12.500h14.400M8 3.800V2M3.300 5.800 2.200 4.600M12.700 5.800l1.100-1.200" />
        </g>
      )}
      {kind === 'duration' && (
        <g {...stroke}>
          <path d="M3.500 1.800h9M3.500 14.200h9M4.500 1.800c0 3.400 3 4.300 3 6.200s-3 2.800-3 6.200M11.500 1.800c0 3.400-3 4.300-3 6.200s3 2.800 3 6.200" />
        </g>
      )}
      {kind === 'text' && (
        <path
          fill="currentColor"
          d="M3 11.800c-1 0-1.700-.8-1.700-1.900C1.300 7 3 4.700 5.600 3.800l.6 1.100C4.900 5.600 4.100 6.600 3.900 7.700c1.200 0 2 .8 2 2 0 1.200-1 2.100-2.900 2.100Zm7.300 0c-1 0-1.700-.8-1.700-1.900 0-2.900 1.700-5.200 4.300-6.100l.6 1.100c-1.300.7-2.100 1.700-2.300 2.800 1.200 0 2 .8 2 2 0 1.200-1 2.100-2.900 2.100Z"
        />
      )}
    </svg>
  )
}
