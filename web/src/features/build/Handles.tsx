import type { KeyboardEvent, PointerEvent } from 'react'
import type { Figure } from '../../figure/figure'
import { frameOf, fromX, fromY, toX, toY, WHOLE } from '../../painter/geometry'
import { endOf, moved, stretched, type Built } from './built'

const STEP = 1

/** What can be taken hold of on the chart: the centre of each group, and the beginning of its line. */
export function Handles({
  figure,
  size,
  built,
  change,
}: {
  figure: Figure
  size: { width: number; height: number }
  built: Built
  change: (built: Built) => void
}) {
  const frame = frameOf(figure, 0, size.width, size.height, WHOLE)
  const place = (x: number, y: number) => ({ left: toX(frame, x / 100), top: toY(frame, y / 100) })
  const colours = figure.keys.find((k) => k.channels.includes('colour'))?.entries ?? []
  const handle = (
    key: string,
    label: string,
    at: { x: number; y: number },
    size: number,
    colour: string | undefined,
    act: (x: number, y: number) => void,
  ) => {
    const drag = (e: PointerEvent<HTMLButtonElement>) => {
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) return
      const box = e.currentTarget.parentElement!.getBoundingClientRect()
      act(100 * fromX(frame, e.clientX - box.left), 100 * fromY(frame, e.clientY - box.top))
    }
    const keys = (e: KeyboardEvent) => {
      const [dx, dy] = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, STEP], ArrowDown: [0, -STEP] }[e.key] ?? [0, 0]
      if (dx === 0 && dy === 0) return
      e.preventDefault()
      act(at.x + dx, at.y + dy)
    }
    const { left, top } = place(at.x, at.y)
    return (
      <button
        key={key}
        type="button"
        aria-label={label}
        title={label}
        className="absolute cursor-grab touch-none rounded-full border-[2.5px] border-ink shadow-[0_0_0_2px_var(--paper)] active:cursor-grabbing"
        style={{ left: left - size / 2, top: top - size / 2, width: size, height: size, background: colour ?? 'var(--paper)' }}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={drag}
        onKeyDown={keys}
      />
    )
  }
  return (
    <div className="pointer-events-none absolute inset-0 [&>*]:pointer-events-auto">
      {built.groups.map((group, i) => {
        const colour = colours.find((c) => c.name === group.name)?.light
        return [
          handle(
            `end ${group.name}`,
            `The beginning of the line of ${group.name}: its spread, and the slope of all`,
            endOf(built, i),
            14,
            undefined,
            (x, y) => change(stretched(built, i, x, y)),
          ),
          handle(group.name, `The centre of ${group.name}: ${group.x} along x, ${group.y} along y`, group, 22, colour, (x, y) =>
            change(moved(built, i, x, y)),
          ),
        ]
      })}
    </div>
  )
}
