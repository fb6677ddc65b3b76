/** The keys of colour, shape and size, as elements that the application and shared pages use alike. */
import type { Figure, Key, Selection } from '../figure/figure'
import { lettersOf, styleOf } from './axes'
import { traceShape } from './shapes'
import { themeNow } from './theme'

function element<K extends keyof HTMLElementTagNameMap>(tag: K, className: string, text = ''): HTMLElementTagNameMap[K] {
  const made = document.createElement(tag)
  made.className = className
  made.textContent = text
  return made
}

/** A canvas of a size, sharp on any screen. */
function drawn(width: number, height: number, draw: (c: CanvasRenderingContext2D) => void): HTMLCanvasElement {
  const canvas = document.createElement('canvas')
  const ratio = Math.max(2, devicePixelRatio || 1)
  canvas.width = width * ratio
  canvas.height = height * ratio
  canvas.style.width = `${width}px`
  canvas.style.height = `${height}px`
  const c = canvas.getContext('2d')!
  c.scale(ratio, ratio)
  draw(c)
  return canvas
}

/** A mark drawn at the size of text. */
function swatch(shape: string, r: number, colour: string, filled: boolean): HTMLCanvasElement {
  const side = Math.ceil(2 * r * 1.4 + 4)
  return drawn(side, side, (c) => {
    traceShape(c, shape, side / 2, side / 2, r)
    c.fillStyle = c.strokeStyle = colour
    c.lineWidth = 1.4
    if (filled) c.fill()
    else c.stroke()
  })
}

/** A short line in the pattern of a group. */
function lineSwatch(dash: number[], colour: string): HTMLCanvasElement {
  return drawn(26, 10, (c) => {
    c.strokeStyle = colour
    c.lineWidth = 2
    c.setLineDash(dash)
    c.beginPath()
    c.moveTo(0, 5)
    c.lineTo(26, 5)
    c.stroke()
  })
}

/** How long the gradients of figures are that say nothing of it: those that were shared before. */
const OLD_LENGTH = 150

/** The keys of a figure; pressing an entry shows it alone, with Shift beside others, and pressing it again shows all. */
export function buildKeys(
  figure: Figure,
  isolated: Selection | null,
  isolate: (selection: Selection | null) => void,
  reorder?: Reorder,
  open?: (channel: string) => void,
): HTMLElement[] {
  const made = figure.keys.map((key, i) => {
    const box = key.gradient
      ? gradientKey(key, figure.manner?.text ?? 1)
      : key.samples
        ? sizeKey(key)
        : key.signs
          ? signKey(key)
          : entryKey(key, i + 1, isolated, isolate, key.channels.includes('colour') ? reorder : undefined)
    const [channel] = key.channels
    for (const entry of box.querySelectorAll<HTMLElement>('button.key-entry')) entry.dataset.entry = `${i} ${entry.textContent}`
    if (open && channel !== 'also') pressable(box, () => open(key.says ?? (key.column ? channel : 'y')))
    box.hidden = key.named === true
    return box
  })
  for (const key of made) Object.assign(key.style, styleOf(lettersOf(figure, 'key', 13)))
  return made
}

/** Puts keys in the place of those that stand in a box; the entry that had the focus has it again. */
export function replaceKeys(box: HTMLElement, keys: HTMLElement[]): void {
  const had = box.contains(document.activeElement) ? (document.activeElement as HTMLElement).dataset.entry : undefined
  box.replaceChildren(...keys)
  if (had !== undefined) box.querySelector<HTMLElement>(`[data-entry="${CSS.escape(had)}"]`)?.focus({ preventScroll: true })
}

/** Told of the names of a key in the order into which they were dragged. */
export type Reorder = (names: string[]) => void

/** Puts the keys over the place that the figure keeps free for them, on a paper of a size. */
export function putInside(box: HTMLElement, figure: Figure): void {
  const { left, top, width, height } = figure.manner!.inside!
  const [right, bottom] = [figure.width - left - width, figure.height - top - height]
  Object.assign(
    box.style,
    left < right ? { left: `${left}px`, right: 'auto' } : { right: `${right}px`, left: 'auto' },
    top < bottom ? { top: `${top}px`, bottom: 'auto' } : { bottom: `${bottom}px`, top: 'auto' },
  )
}

function entryKey(
  key: Key,
  number: number,
  isolated: Selection | null,
  isolate: (selection: Selection | null) => void,
  reorder?: Reorder,
): HTMLElement {
  const box = start(key.name)
  const theme = themeNow()
  const mine = isolated?.key === number ? isolated.entries : null
  const order = key.order ?? key.entries!.map((_, i) => i)
  order.forEach((i) => {
    const one = key.entries![i]
    if (one.count === 0) return // no row of it is drawn
    const alone = mine?.includes(i) ?? false
    const entry = element('button', 'key-entry')
    entry.type = 'button'
    entry.setAttribute('aria-pressed', String(alone))
    const more = mine !== null && mine.length > 0
    entry.title = alone
      ? mine!.length > 1
        ? `Show the others without ${one.name}`
        : 'Show all groups again'
      : `Show ${one.name} alone${more ? '; with Shift, beside those that are shown' : ''}`
    entry.classList.toggle('away', mine !== null && !alone)
    const colour = theme.dark ? one.dark : one.light
    if (one.line) entry.append(lineSwatch(one.dash ?? [], colour ?? theme.ink))
    entry.append(swatch(one.shape ?? 'circle', 5, colour ?? theme.ink, colour !== undefined), one.name)
    entry.addEventListener('click', (e) => {
      // With Shift, and where several are shown, one more or one less; else this one alone, or all again.
      const others = (mine ?? []).filter((at) => at !== i)
      const entries =
        e.shiftKey || e.ctrlKey || e.metaKey || (alone && others.length > 0)
          ? alone
            ? others
            : [...others, i].sort((a, b) => a - b)
          : alone
            ? []
            : [i]
      isolate(entries.length > 0 && entries.length < key.entries!.length ? { key: number, entries } : null)
    })
    if (reorder)
      movable(
        entry,
        one.name,
        order.map((at) => key.entries![at].name),
        reorder,
      )
    box.append(entry)
  })
  return box
}

/** How far a hand moves before a press becomes a drag, in pixels. */
const DRAG_FROM = 6

/** Lets an entry be dragged to another's place, or moved by Alt and an arrow. */
function movable(entry: HTMLElement, name: string, names: string[], reorder: Reorder): void {
  const move = (to: number) => {
    const rest = names.filter((other) => other !== name)
    rest.splice(Math.max(0, Math.min(to, rest.length)), 0, name)
    if (rest.join('\n') !== names.join('\n')) reorder(rest)
  }
  entry.title += '; drag it, or press Alt and an arrow, to move it in the key'
  entry.dataset.group = name
  entry.style.touchAction = 'none'
  entry.addEventListener('keydown', (e) => {
    const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[e.key]
    if (!e.altKey || !by) return
    e.preventDefault()
    move(names.indexOf(name) + by)
  })
  entry.addEventListener('pointerdown', (down) => {
    let dragged = false
    const over = (e: PointerEvent) =>
      document
        .elementsFromPoint(e.clientX, e.clientY)
        .find(
          (at): at is HTMLElement =>
            at instanceof HTMLElement && at.dataset.group !== undefined && at.parentElement === entry.parentElement,
        )
    const follow = (e: PointerEvent) => {
      dragged ||= Math.hypot(e.clientX - down.clientX, e.clientY - down.clientY) > DRAG_FROM
      entry.classList.toggle('dragged', dragged)
      for (const other of entry.parentElement!.querySelectorAll('.drop')) other.classList.remove('drop')
      if (dragged) over(e)?.classList.toggle('drop', over(e) !== entry)
    }
    const end = (e: PointerEvent) => {
      removeEventListener('pointermove', follow)
      removeEventListener('pointerup', end)
      removeEventListener('pointercancel', end)
      entry.classList.remove('dragged')
      if (!dragged) return
      const swallow = (click: MouseEvent) => click.stopPropagation() // the press was a drag
      addEventListener('click', swallow, { capture: true, once: true })
      setTimeout(() => removeEventListener('click', swallow, { capture: true }), 0)
      const onto = e.type === 'pointerup' ? over(e) : undefined
      if (onto && onto !== entry) move(names.indexOf(onto.dataset.group!))
    }
    addEventListener('pointermove', follow)
    addEventListener('pointerup', end)
    addEventListener('pointercancel', end)
  })
}

function sizeKey(key: Key): HTMLElement {
  const faint = themeNow().dark ? '#5d8a82' : '#8fb0a9'
  const box = start(key.unit ? `${key.name}, ${key.unit} (area)` : `${key.name} (area)`)
  for (const sample of key.samples!) {
    const entry = element('span', 'key-entry')
    entry.append(swatch('circle', sample.radius, faint, true), sample.label)
    box.append(entry)
  }
  return box
}

function start(name: string): HTMLElement {
  const box = element('div', 'key')
  box.setAttribute('role', 'group')
  box.setAttribute('aria-label', `Key: ${name}`)
  box.append(element('span', 'key-name', name))
  return box
}

/** What stands about lines and statistics, as it is drawn. */
function signKey(key: Key): HTMLElement {
  const box = start(key.name)
  const { dark } = themeNow()
  for (const sign of key.signs!) {
    const entry = element('span', 'key-entry')
    entry.style.gap = '6px'
    entry.append(drawn(22, 14, sign.kind === 'band' ? bandSign(shade(dark, sign)) : intervalSign(shade(dark, sign))), sign.label)
    box.append(entry)
  }
  return box
}

const shade = (dark: boolean, of: { light: string; dark: string }) => (dark ? of.dark : of.light)

const bandSign = (colour: string) => (c: CanvasRenderingContext2D) => {
  c.fillStyle = colour
  c.globalAlpha = 0.25
  c.fillRect(0, 1.5, 22, 11)
  c.globalAlpha = 1
  c.fillRect(0, 6.2, 22, 1.6)
}

const intervalSign = (colour: string) => (c: CanvasRenderingContext2D) => {
  c.fillStyle = colour
  c.fillRect(10.2, 1, 1.6, 12)
  c.fillRect(7, 0.2, 8, 1.6)
  c.fillRect(7, 12.2, 8, 1.6)
}

/** Lets the name of a key be pressed: what it explains opens. */
function pressable(box: HTMLElement, press: () => void): void {
  const name = box.querySelector('.key-name')!
  const button = element('button', 'key-name', name.textContent)
  button.type = 'button'
  button.title = 'Change what this shows'
  button.addEventListener('click', press)
  name.replaceWith(button)
}

function gradientKey(key: Key, text: number): HTMLElement {
  const { low, high, light, dark, ticks, length } = key.gradient!
  const box = start(key.unit ? `${key.name}, ${key.unit}` : key.name)
  const shades = themeNow().dark ? dark : light
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
  scale.style.width = `${(length || OLD_LENGTH) * text}px`
  const labels = element('span', 'key-ticks')
  for (const tick of ticks) {
    const label = element('span', '', tick.label)
    const share = (tick.value / 2 - low / 2) / (high / 2 - low / 2 || 1) // halves, for the ends of what a number can be
    label.style.left = `${100 * share}%`
    if (share < 0.06) label.style.transform = 'none' // no label stands over the edge
    labels.append(label)
  }
  scale.append(canvas, labels)
  box.append(scale)
  return box
}
