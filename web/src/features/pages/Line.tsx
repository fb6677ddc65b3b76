import { useLayoutEffect, useRef } from 'react'

/** A line of a page that is written in place, as high as its text. */
export function Line({
  label,
  hint,
  className,
  most,
  text,
  writes,
  write,
}: {
  label: string
  hint: string
  className: string
  most: number
  text: string
  writes: boolean
  write: (text: string) => void
}) {
  const area = useRef<HTMLTextAreaElement>(null)
  useLayoutEffect(() => {
    const fit = () => {
      const element = area.current!
      element.style.height = '0'
      element.style.height = `${element.scrollHeight}px`
    }
    fit()
    const watch = new ResizeObserver(fit)
    watch.observe(area.current!.parentElement!)
    void document.fonts?.ready.then(fit)
    return () => watch.disconnect()
  }, [text])
  return (
    <textarea
      ref={area}
      rows={1}
      readOnly={!writes}
      aria-label={label}
      placeholder={hint}
      maxLength={most}
      value={text}
      className={`block w-full resize-none overflow-hidden bg-transparent outline-none placeholder:text-muted focus-visible:underline focus-visible:decoration-copper focus-visible:decoration-1 focus-visible:underline-offset-8 ${className}`}
      onChange={(e) => write(e.target.value.replace(/\n/g, ' '))}
    />
  )
}
