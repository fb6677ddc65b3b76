/** What the card beside a pointer says: of a mark, of its row once the server told it, or of all lines at a place along x. */
import { pictureCount, pointCount, rowFinder, type Figure, type Layer } from '../figure/figure'
import type { Frame } from '../painter/geometry'
import { nearCard, ownCard, pointCard, rowCard, sameXCard, type CardText } from './card'
import { CardBox } from './cardbox'
import { compareCard, freeCell } from './compare'
import type { Hit } from './hit'

/** The place along x that is pointed at, in a panel. */
export interface Along {
  u: number
  panel: number
  frames: Frame[]
  visible: (layer: Layer) => (i: number) => boolean
  x: number
  y: number
}

export class Cards {
  readonly box = new CardBox()
  /** What the card says of the mark that is pointed at. */
  told: CardText | null = null
  private rows = new Map<string, CardText>()
  private width = 0
  private height = 0
  private shown: { figure: Figure; hit: Hit } | null = null

  constructor(private readonly rowValues?: (row: number) => Promise<Record<string, string>>) {}

  /** Takes the size of the paper that cards stay on. */
  resize(width: number, height: number): void {
    this.width = width
    this.height = height
  }

  /** Forgets what rows were told: they are another figure's from now on. */
  forget(): void {
    this.rows = new Map()
  }

  hide(): void {
    this.told = this.shown = null
    this.box.hide()
  }

  /** Shows what a mark says; of a row that the figure does not carry what it knows, and all once it is told. */
  showMark(figure: Figure, hit: Hit): void {
    const layer = figure.layers[hit.layer]
    const told = layer.rows ? (pointCard(figure, layer, hit.i) ?? this.rows.get(`${hit.layer}:${hit.i}`)) : ownCard(layer, hit.i)
    if (!told && !(layer.rows && this.rowValues)) return this.hide()
    this.shown = { figure, hit }
    this.show(told ?? nearCard(figure, layer, hit.i), hit)
    if (!told) this.ask(figure, layer, hit)
  }

  private show(text: CardText, hit: Hit): void {
    this.told = text
    this.box.show(text, hit.x, hit.y, hit.radius + 12, this.width, this.height)
  }

  private ask(figure: Figure, layer: Layer, hit: Hit): void {
    const { rows } = this
    void this.rowValues!(rowFinder(layer)(hit.i)).then((values) => {
      const text = rowCard(figure, values)
      rows.set(`${hit.layer}:${hit.i}`, text)
      const { shown } = this
      if (shown?.figure === figure && shown.hit.i === hit.i && shown.hit.layer === hit.layer) this.show(text, hit)
    })
  }

  /** Of panels, and of lines alone: shows what the lines say at the place along x that is pointed at. */
  showSameX(figure: Figure, { u, panel, frames, visible, x, y }: Along): void {
    const panels = compareCard(figure, panel, u, visible)
    const free = panels && freeCell(frames)
    if (free) return this.box.showAt(panels, free.left, free.top, this.width, this.height)
    const told = panels ?? (pictureCount(figure) > 1 || pointCount(figure) === 0 ? sameXCard(figure, panel, u, visible) : null)
    if (told) this.box.show(told, x, y, 16, this.width, this.height)
    else this.box.hide()
  }
}
