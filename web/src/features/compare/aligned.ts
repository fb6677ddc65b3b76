import type { Figure } from '../../figure/figure'

/** The figure with its pictures where those of another one stand too, so that one can be laid over the other; as it is where they
 * have other pictures. */
export function aligned(figure: Figure, other: Figure | undefined): Figure {
  if (!other || figure.panels.length !== other.panels.length) return figure
  const panels = figure.panels.map((panel, i) => {
    const beside = other.panels[i].box
    const left = Math.max(panel.box.left, beside.left)
    const top = Math.max(panel.box.top, beside.top)
    const right = Math.min(panel.box.left + panel.box.width, beside.left + beside.width)
    const bottom = Math.min(panel.box.top + panel.box.height, beside.top + beside.height)
    return right - left < 40 || bottom - top < 40 ? panel : { ...panel, box: { left, top, width: right - left, height: bottom - top } }
  })
  const dx = panels[0].box.left + panels[0].box.width / 2 - (figure.panels[0].box.left + figure.panels[0].box.width / 2)
  const texts = figure.texts.map((text) =>
    text.role === 'axis' && text.axis === 'x' && panels.length === 1 ? { ...text, x: text.x + dx } : text,
  )
  return { ...figure, panels, texts }
}
