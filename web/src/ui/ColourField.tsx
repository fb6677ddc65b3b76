import { useEffect, useState } from 'react'

/** A colour that is chosen, and kept when the choosing ends; × gives the usual one back. */
export function ColourField({
  label,
  value,
  usual,
  keep,
}: {
  label: string
  value: string
  usual: string
  keep: (colour: string) => void
}) {
  const [now, setNow] = useState(value || usual)
  useEffect(() => setNow(value || usual), [value, usual])
  return (
    <span className="inline-flex shrink-0 items-center gap-1">
      <input
        type="color"
        className="h-5 w-7 cursor-pointer rounded border border-line bg-transparent p-0"
        aria-label={label}
        title={label}
        value={now}
        onChange={(e) => setNow(e.target.value)}
        onBlur={() => now !== (value || usual) && keep(now)}
      />
      {value && (
        <button
          type="button"
          className="text-muted hover:text-copper"
          aria-label={`${label}: as usual`}
          title="As usual"
          onClick={() => keep('')}
        >
          ×
        </button>
      )}
    </span>
  )
}
