import { useLayoutEffect, useState, type RefObject } from 'react'

/**
 * How many children of a sentence fit into so many lines; the later ones fold away. Infinity while
 * all fit. Children that stand for a part of the sentence carry data-part.
 */
export function useFold(sentence: RefObject<HTMLElement | null>, lines: number, open: boolean, said: string): number {
  const [fits, setFits] = useState(Infinity)
  const [width, setWidth] = useState(0)
  useLayoutEffect(() => {
    const element = sentence.current
    if (!element) return
    const watch = new ResizeObserver(() => setWidth(element.clientWidth))
    watch.observe(element)
    return () => watch.disconnect()
  }, [sentence])
  // Everything is laid out first, then what does not fit is folded before anything is painted.
  useLayoutEffect(() => setFits(Infinity), [said, width, lines, open])
  useLayoutEffect(() => {
    const element = sentence.current
    if (!element || open || fits !== Infinity) return
    const parts = [...element.querySelectorAll<HTMLElement>('[data-part]')]
    const height = parseFloat(getComputedStyle(element).lineHeight)
    const top = element.getBoundingClientRect().top
    const boxes = parts.map((p) => p.getClientRects()).map((rects) => rects[rects.length - 1])
    if (boxes.length === 0 || boxes.at(-1)!.top - top < height * lines - 2) return
    const room = element.getBoundingClientRect().right - 190 // for what stands behind the last word
    const last = boxes.findLastIndex(
      (box) => box.top - top < height * (lines - 1) - 2 || (box.top - top < height * lines - 2 && box.right < room),
    )
    const word = parts.slice(0, last + 1).findLastIndex((p) => p.dataset.part === 'word')
    setFits(word + 1)
  }, [said, width, lines, open, fits, sentence])
  return fits
}
