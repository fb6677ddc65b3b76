/** The keys of colour, shape and size, as elements that the application and shared pages use alike. */
import type { Figure } from '../api/figure'
import { traceShape } from '../painter/shapes'

function element<K extends keyof HTMLElementTagNameMap>(tag: K, className: string, text = ''): HTMLElementTagNameMap[K] {
  const made = document.createElement(tag)
  made.className = className
  made.textContent = text
  return made
}

const isDark = () => matchMedia('(prefers-color-scheme: dark)').matches

/** A mark drawn at the size of text. */
function swatch(shape: string, r: number, colour: string, filled: boolean): HTMLCanvasElement {
  const side = Math.ceil(2 * r * 1.4 + 4)
  const ratio = Math.max(2, devicePixelRatio || 1)
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = side * ratio
  canvas.style.width = canvas.style.height = `${side}px`
  const c = canvas.getContext('2d')!
  c.scale(ratio, ratio)
  traceShape(c, shape, side / 2, side / 2, r)
  c.fillStyle = c.strokeStyle = colour
  c.lineWidth = 1.4
  if (filled) c.fill()
  else c.stroke()
  return canvas
}

/** The keys of a figure; pressing a colour's group shows it alone, pressing it again shows all. */
export function buildKeys(figure: Figure, isolated: number | null, isolate: (group: number | null) => void): HTMLElement[] {
  const keys: HTMLElement[] = []
  const ink = isDark() ? '#e3efec' : '#16302e'
  const faint = isDark() ? '#5d8a82' : '#8fb0a9'
  const { colour, shape, size } = figure
  if (colour?.groups) {
    const box = start(colour.name)
    colour.groups.forEach((group, i) => {
      const entry = element('button', 'key-entry')
      entry.type = 'button'
      entry.setAttribute('aria-pressed', String(isolated === i))
      entry.title = isolated === i ? 'Show all groups again' : `Show ${group.name} alone`
      entry.classList.toggle('away', isolated !== null && isolated !== i)
      const mark = shape && shape.column === colour.column ? (shape.groups?.[i]?.shape ?? 'circle') : 'circle'
      entry.append(swatch(mark, 5, (isDark() ? group.dark : group.light)!, true), group.name)
      entry.addEventListener('click', () => isolate(isolated === i ? null : i))
      box.append(entry)
    })
    keys.push(box)
  }
  if (colour?.gradient) keys.push(gradientKey(colour))
  if (shape?.groups && shape.column !== colour?.column) {
    const box = start(shape.name)
    for (const group of shape.groups) {
      const entry = element('span', 'key-entry')
      entry.append(swatch(group.shape!, 5, ink, false), group.name)
      box.append(entry)
    }
    keys.push(box)
  }
  if (size) {
    const box = start(size.unit ? `${size.name}, ${size.unit} (area)` : `${size.name} (area)`)
    for (const sample of size.samples) {
      const entry = element('span', 'key-entry')
      entry.append(swatch('circle', sample.radius, faint, true), sample.label)
      box.append(entry)
    }
    keys.push(box)
  }
  return keys
}

function start(name: string): HTMLElement {
  const box = element('div', 'key')
  box.setAttribute('role', 'group')
  box.setAttribute('aria-label', `Key: ${name}`)
  box.append(element('span', 'key-name', name))
  return box
}

function gradientKey(colour: NonNullable<Figure['colour']>): HTMLElement {
  const { low, high, light, dark, ticks } = colour.gradient!
  const box = start(colour.unit ? `${colour.name}, ${colour.unit}` : colour.name)
  const shades = isDark() ? dark : light
  const canvas = document.createElement('canvas')
  canvas.width = shades.length
  canvas.height = 1
  canvas.className = 'key-gradient'
  const c = canvas.getContext('2d')!
  shades.forEach((shade, i) => {
    c.fillStyle = shade
    c.fillRect(i, 0, 1, 1)
  })
  const scale = element('span', 'key-scale')
  const labels = element('span', 'key-ticks')
  for (const tick of ticks) {
    const label = element('span', '', tick.label)
    label.style.left = `${(100 * (tick.value - low)) / (high - low || 1)}%`
    labels.append(label)
  }
  scale.append(canvas, labels)
  box.append(scale)
  return box
}
