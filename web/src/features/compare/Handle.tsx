import { useRef } from 'react'

/** How far the second chart is laid over the first: dragged, or moved by the arrow keys. */
export function Handle({ share, distance, move }: { share: number; distance: number; move: (share: number) => void }) {
  const from = useRef<{ x: number; share: number } | null>(null)
  const to = (value: number) => move(Math.max(0, Math.min(1, value)))
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Lay B over A"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * share)}
      aria-valuetext={share === 0 ? 'side by side' : share === 1 ? 'B lies on A' : `${Math.round(100 * share)} % of the way`}
      title="Drag to lay B over A"
      className="relative z-10 slim:hidden w-7 shrink-0 cursor-ew-resize touch-none outline-none"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        from.current = { x: e.clientX, share }
      }}
      onPointerMove={(e) => from.current && to(from.current.share + (from.current.x - e.clientX) / Math.max(distance, 1))}
      onPointerUp={() => (from.current = null)}
      onPointerCancel={() => (from.current = null)}
      onDoubleClick={() => to(share < 0.5 ? 1 : 0)}
      onKeyDown={(e) => {
        const by = { ArrowLeft: 0.1, ArrowRight: -0.1, Home: 1, End: -1 }[e.key]
        if (by === undefined) return
        e.preventDefault()
        e.stopPropagation()
        to(share + by)
      }}
    >
      <span aria-hidden className="absolute inset-y-1 left-1/2 w-0.5 -translate-x-1/2 bg-copper" />
      <span
        aria-hidden
        className="absolute top-1/2 left-1/2 grid h-15 w-8 -translate-x-1/2 -translate-y-1/2 place-items-center rounded-full border-2 border-copper bg-paper text-copper [[role=slider]:focus-visible_&]:outline-2"
      >
        ↔
      </span>
    </div>
  )
}
