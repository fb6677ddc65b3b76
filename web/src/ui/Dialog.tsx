import { useLayoutEffect, useRef, type ReactNode } from 'react'

/** A dialog over the page, by the browser's own element: focus stays inside, Escape closes. */
export function Dialog({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) {
  const ref = useRef<HTMLDialogElement>(null)
  // Closed before it goes: then the browser gives the focus back to what opened it.
  useLayoutEffect(() => {
    const dialog = ref.current!
    if (!dialog.open) dialog.showModal()
    return () => dialog.close()
  }, [])
  return (
    <dialog
      ref={ref}
      aria-label={title}
      onCancel={(e) => {
        e.preventDefault()
        onClose()
      }}
      className="m-auto max-h-[88vh] w-[min(920px,92vw)] overflow-auto rounded-xl border border-line bg-strip p-6 text-ink shadow-2xl"
    >
      <div className="mb-4 flex items-baseline justify-between gap-4">
        <h2 className="font-serif text-xl font-semibold">{title}</h2>
        <button type="button" className="link text-sm" onClick={onClose}>
          Close
        </button>
      </div>
      {children}
    </dialog>
  )
}
