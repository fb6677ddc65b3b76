/** What a chart hears of pointer, wheel and keys. */
export interface Ears {
  moved: (e: PointerEvent) => void
  down: (e: PointerEvent) => void
  up: (e: PointerEvent) => void
  cancelled: (e: PointerEvent) => void
  left: (e: PointerEvent) => void
  reset: () => void
  wheel: (e: WheelEvent) => void
  /** Does what a key says; false where it says nothing here. */
  key: (e: KeyboardEvent) => boolean
  blurred: (e: FocusEvent) => void
  singleKeys?: () => boolean
}

export function listen(element: HTMLElement, ears: Ears, signal: AbortSignal): void {
  const on = <K extends keyof HTMLElementEventMap>(kind: K, act: (e: HTMLElementEventMap[K]) => void, passive = true) =>
    element.addEventListener(kind, act, { signal, passive })
  on('pointermove', ears.moved)
  on('pointerdown', ears.down)
  on('pointerup', ears.up)
  on('pointerleave', ears.left)
  on('pointercancel', ears.cancelled)
  on('dblclick', ears.reset)
  on('wheel', ears.wheel, false)
  on(
    'keydown',
    (e) => {
      if (ears.singleKeys?.() === false && e.key.length === 1) return // letters and signs are switched off
      if (!ears.key(e)) return
      e.preventDefault()
      e.stopPropagation()
    },
    false,
  )
  on('blur', ears.blurred)
}
