import { useEffect, useId, useRef, useState, type FocusEvent, type PointerEvent, type ReactNode } from 'react'
import { createPortal } from 'react-dom'
import { inSpace } from '../../api/space'
import { over } from '../../ui/over'

/** How large a step is shown, in pixels, and how far above itself. */
const LARGE = { width: 424, height: 240 }
const ABOVE = 10

interface Shown {
  left: number
  bottom: number
  /** Its small picture, which is at hand: it is shown until the large one has come. */
  small: string
}

/** A step that is pointed at, or has the focus, is shown large above itself, at once: its small picture drawn large, then one that was laid out for the size. */
export function Grown({
  chart,
  step,
  version,
  told,
  children,
}: {
  chart: number
  step: number
  version: number
  /** What is said under it. */
  told: string
  children: ReactNode
}) {
  const [shown, setShown] = useState<Shown | null>(null)
  const box = useRef<HTMLSpanElement>(null)
  const id = useId()
  const show = () => {
    const at = box.current!.getBoundingClientRect()
    const small = box.current!.querySelector('img')?.src
    if (!small) return
    const middle = at.left + at.width / 2
    setShown({
      left: Math.max(8, Math.min(innerWidth - LARGE.width - 8, middle - LARGE.width / 2)),
      bottom: innerHeight - at.top + ABOVE,
      small,
    })
  }
  const hide = () => setShown(null)
  useEffect(() => {
    if (!shown) return
    const gone = (e: KeyboardEvent) => e.key === 'Escape' && hide()
    addEventListener('keydown', gone)
    addEventListener('scroll', hide, { capture: true, once: true })
    return () => {
      removeEventListener('keydown', gone)
      removeEventListener('scroll', hide, { capture: true })
    }
  }, [shown])
  const large = inSpace(`/api/charts/${chart}/steps/${step}/picture.svg?width=${LARGE.width}&height=${LARGE.height}&version=${version}`)
  return (
    <span
      ref={box}
      className="block"
      onPointerEnter={(e: PointerEvent) => e.pointerType === 'mouse' && show()}
      onPointerLeave={hide}
      onPointerDown={hide}
      onFocus={(e: FocusEvent) => e.target.matches(':focus-visible') && show()}
      onBlur={hide}
    >
      {children}
      {shown &&
        createPortal(
          <figure
            id={id}
            aria-hidden
            data-grown
            className="pointer-events-none fixed z-30 overflow-hidden rounded-[10px] border border-line bg-paper shadow-[0_8px_22px_rgb(0_0_0/0.16)]"
            style={{ left: shown.left, bottom: shown.bottom, width: LARGE.width }}
          >
            <span className="relative block" style={{ aspectRatio: `${LARGE.width} / ${LARGE.height}` }}>
              <img src={shown.small} alt="" className="absolute inset-0 size-full object-contain" />
              <img
                src={large}
                alt=""
                className="absolute inset-0 size-full bg-paper opacity-0"
                onLoad={(e) => (e.currentTarget.style.opacity = '1')}
              />
            </span>
            <figcaption className="border-t border-line bg-strip px-3 py-1.5 text-[13px] whitespace-pre-line">{told}</figcaption>
          </figure>,
          over() ?? document.body,
        )}
    </span>
  )
}
