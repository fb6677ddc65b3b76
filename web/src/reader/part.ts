/** A chart of a shared page: fetches its figure, or finds it in the file, and lets it be read. */
import { decodePicture, type Figure, type Picture } from '../figure/figure'
import { inInk } from '../figure/ink'
import { ChartView } from '../interact/chartview'
import type { Linked } from '../interact/linked'
import { lettersOf, styleOf } from '../painter/axes'
import { buildKeys, putInside, replaceKeys } from '../painter/keys'
import { whenThemeTurns } from '../painter/theme'

/** Up to which width of the window a page is read as on a phone. */
export const ON_A_PHONE = '(max-width: 560px)'

const bytesOf = (base64: string) => Uint8Array.from(atob(base64), (c) => c.charCodeAt(0)).buffer

export class Part {
  readonly key: string
  readonly keys: HTMLElement
  figure: Figure | null = null
  chart: ChartView | null = null
  private inked = false
  private readonly host: HTMLElement

  constructor(
    readonly element: HTMLElement,
    private readonly linked: Linked | null,
  ) {
    this.key = element.dataset.chart!
    this.host = element.querySelector<HTMLElement>('.chart')!
    this.keys = element.querySelector<HTMLElement>('.keys')!
  }

  /** Bytes of the chart: from the file that the page is, or from the server. */
  private async bytes(which: 'first' | 'phone' | 'exact' | 'links'): Promise<ArrayBuffer> {
    const inside = this.element.querySelector<HTMLElement>(`[data-figure="${which}"]`)
    if (inside) return bytesOf(inside.dataset.bytes!)
    if (this.element.querySelector('[data-figure]')) throw new Error('it is not in this file')
    const path = which === 'first' ? 'figure' : which === 'links' ? 'links' : `figure/${which}`
    const answer = await fetch(`/s/${this.key}/${path}`)
    if (!answer.ok) throw new Error(((await answer.json()) as { message: string }).message)
    return answer.arrayBuffer()
  }

  async open(): Promise<void> {
    try {
      const phone = matchMedia(ON_A_PHONE).matches
      const picture = decodePicture(await this.bytes(phone ? 'phone' : 'first'))
      const names = 'linked' in this.element.dataset ? new Uint32Array(await this.bytes('links')) : undefined
      this.host.replaceChildren()
      await Promise.all(['400 13px "Hanken Grotesk"', '600 13px "Hanken Grotesk"'].map((font) => document.fonts.load(font)))
      this.start(picture, phone, names)
    } catch (fault) {
      const words = document.createElement('p')
      words.className = 'waiting'
      words.textContent = `The chart cannot be shown: ${fault instanceof Error ? fault.message : fault}. Reload the page to try again.`
      this.host.replaceChildren(words)
    }
  }

  private start(picture: Picture, phone: boolean, names?: Uint32Array): void {
    const { figure, reading } = picture
    this.figure = figure
    const words = reading.paragraphs.map((p) => p.spans.map((s) => s.text).join('')).join(' ')
    placeKeys(this.host, this.keys, phone && figure.manner?.key === 'right' ? undefined : figure.manner?.key)
    const paper = figure.manner?.paper
    if (paper)
      Object.assign(this.host.style, {
        aspectRatio: `${paper.width} / ${paper.height}`,
        height: 'auto',
        width: `min(100%, ${paper.width}px)`,
        flex: 'none',
      })
    else if (phone) this.host.style.height = `${figure.height}px`
    const chart: ChartView = new ChartView(this.host, {
      sheet: phone,
      rowValues: async (row) => (await fetch(`/s/${this.key}/rows/${row + 1}`)).json(),
      onIsolate: (selection) => {
        this.redraw()
        this.linked?.alone(chart, selection)
      },
      onRow: (row) => this.linked?.row(chart, row),
      onChoose: this.linked ? (rows) => this.linked!.chosen(chart, rows) : undefined,
      onDeep: () =>
        void this.bytes('exact').then(
          (exact) => chart.show(decodePicture(exact).figure, words),
          () => {},
        ), // without it the chart stays as it is
    })
    this.chart = chart
    this.linked?.add({ chart, figure: () => this.figure, names })
    if (figure.manner?.key === 'inside') putInside(this.keys, figure)
    chart.show(figure, words)
    this.redraw()
    whenThemeTurns(() => this.redraw())
    this.addNote(figure)
  }

  /** Turns the chart and its keys to ink for a printer, and back. */
  print(inked: boolean): void {
    this.inked = inked
    this.chart?.now(inked)
    this.redraw()
  }

  redraw(): void {
    const { chart } = this
    if (!this.figure || !chart) return
    const figure = this.inked ? inInk(this.figure) : this.figure
    replaceKeys(
      this.keys,
      buildKeys(figure, chart.isolated, (selection) => chart.isolate(selection)),
    )
  }

  private addNote(figure: Figure): void {
    if (!figure.note) return
    const note = document.createElement('p')
    note.className = 'text note'
    note.textContent = figure.note
    if (figure.manner?.letters) Object.assign(note.style, styleOf(lettersOf(figure, 'note', 14)))
    this.element.append(note)
  }
}

/** Puts the keys where the chart says: below it, unless it says otherwise. */
function placeKeys(host: HTMLElement, keys: HTMLElement, at: 'top' | 'right' | 'inside' | 'off' | undefined): void {
  keys.hidden = at === 'off'
  if (at === 'top') host.before(keys)
  if (at === 'inside') {
    const over = document.createElement('div')
    over.className = 'over'
    host.replaceWith(over)
    over.append(host, keys)
    keys.classList.add('keys-inside')
  }
  if (at !== 'right') return
  const pair = document.createElement('div')
  pair.className = 'beside'
  host.replaceWith(pair)
  pair.append(host, keys)
  keys.classList.add('keys-beside')
}

/** What a figure's keys explain, as one text. */
const explains = (figure: Figure) =>
  JSON.stringify(figure.keys.map((k) => [k.column, k.channels, k.entries?.map((e) => e.name), k.gradient?.low]))

/** Of charts that have the same keys one after the other, the last one alone shows them. */
export function keysOnce(parts: Part[]): void {
  parts.forEach((part, i) => {
    const after = parts[i + 1]
    if (part.figure && after?.figure && !part.figure.manner?.key && explains(part.figure) === explains(after.figure))
      part.keys.hidden = true
  })
}
