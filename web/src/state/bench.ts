/**
 * The bench: one chart while it is worked on. It lives outside React; a component
 * reads it through useSyncExternalStore. A change is drawn first and then kept as
 * a step; a preview is drawn and never kept.
 */
import type { Shown } from '../figure/figure'
import { api as server, Refusal, type Amendment, type Chart, type Document, type Drawing, type Step } from '../api/client'
import { followers } from './trail'

/** What the bench asks of the server, so that a test can stand in for it. */
export type BenchServer = Pick<typeof server, 'draw' | 'addChart' | 'moveTo'> & {
  /** A step with its document; none: all that there are have theirs. */
  step?: (id: number, step: number) => Promise<Step>
  markStep?: (typeof server)['markStep']
  takeStepOut?: (typeof server)['takeStepOut']
  putStepBack?: (typeof server)['putStepBack']
  trail?: (typeof server)['trail']
  /** Words are what the step changed; a server finds them itself. */
  addStep: (id: number, parent: number, document: Document, words: string) => Promise<Step>
}

export interface BenchState {
  chart: Chart | null
  steps: Step[]
  /** Steps that stand in the trail already and are on their way to be kept, in order. */
  coming: Coming[]
  /** Small pictures that came with a figure, by step: they are not asked for again. */
  pictures: ReadonlyMap<number, string>
  /** The step that the chart stands at; 0 while nothing is kept. */
  at: number
  document: Document
  drawing: Drawing | null
  /** What is tried on the chart without being said. */
  preview: Drawing | null
  /** What a sentence of the reading that was pressed speaks of. */
  lit: Shown | null
  drawingNow: boolean
  refusal: Refusal | null
  /** A step could not be kept; the change itself is still on screen. */
  unsaved: Refusal | null
}

/** A step before it is kept: what changed, and its small picture as SVG. */
export interface Coming {
  words: string
  picture: string
}

/** The size of the small pictures in the trail, in pixels. */
export const SMALL = { width: 104, height: 54 }

/** What is to be drawn: a document, changed or not, or a typed sentence. */
interface Request {
  document?: Document
  typed?: string
  changes?: Amendment[]
}

/** How soon after nobody answered a step is tried to be kept again, in milliseconds. */
const KEEP_AGAIN = 2000

/** Whether something is said along an axis. */
export const saysSomething = (variable: Document['x']): boolean => Boolean(variable.column || variable.of)

/** Whether a document says something along both axes. */
export const isWhole = (document: Document): boolean => saysSomething(document.x) && saysSomething(document.y)

type Event =
  | { kind: 'asked' }
  | { kind: 'said'; document: Document }
  | { kind: 'drawn'; drawing: Drawing }
  | { kind: 'previewed'; drawing: Drawing | null }
  | { kind: 'resized'; drawing: Drawing }
  | { kind: 'refused'; refusal: Refusal }
  | { kind: 'coming'; coming: Coming }
  | { kind: 'began'; chart: Chart }
  | { kind: 'stepped'; step: Step }
  | { kind: 'arrived'; step: number }
  | { kind: 'trail'; steps: Step[] }
  | { kind: 'moved'; step: Step; document: Document }
  | { kind: 'unsaved'; refusal: Refusal; coming: boolean }
  | { kind: 'cleared' }
  | { kind: 'lit'; speaks: Shown | null }

export function reduce(state: BenchState, event: Event): BenchState {
  switch (event.kind) {
    case 'asked':
      return { ...state, drawingNow: true }
    case 'said':
      return { ...state, document: event.document }
    case 'drawn':
      return {
        ...state,
        drawing: event.drawing,
        document: event.drawing.document,
        preview: null,
        lit: null,
        drawingNow: false,
        refusal: null,
      }
    case 'previewed':
      return { ...state, preview: event.drawing, lit: null, drawingNow: false, refusal: null }
    case 'resized':
      return { ...state, drawing: event.drawing, drawingNow: false } // what was refused or tried is none of its business
    case 'refused':
      return { ...state, refusal: event.refusal, drawingNow: false }
    case 'coming':
      return { ...state, coming: [...state.coming, event.coming] }
    case 'began':
      return { ...state, chart: event.chart, steps: event.chart.steps ?? [], at: standing(event.chart), unsaved: null }
    case 'stepped': // a word that was said anew at once is the step that it was
      return {
        ...arrived(state, event.step.id),
        steps: [...state.steps.filter((s) => s.id !== event.step.id), event.step],
        at: event.step.id,
        unsaved: null,
      }
    case 'trail':
      return { ...state, steps: event.steps }
    case 'arrived':
      return arrived(state, event.step)
    case 'moved':
      return { ...state, at: event.step.id, document: event.document, unsaved: null }
    case 'unsaved':
      return { ...state, unsaved: event.refusal, coming: event.coming ? state.coming.slice(1) : state.coming }
    case 'cleared':
      return { ...state, refusal: null }
    case 'lit':
      return { ...state, lit: event.speaks }
  }
}

/** The step of a chart that whoever asked for it stands at. */
const standing = (chart: Chart) => chart.at_step_id || chart.head_step_id

/** What the chart shows: a choice that is tried, or what is said. */
export const pictureOf = (state: Pick<BenchState, 'preview' | 'drawing'>): Drawing | null => state.preview ?? state.drawing

/** The first of the steps that are coming is kept: its picture goes with it. */
function arrived(state: BenchState, step: number): BenchState {
  const [first, ...coming] = state.coming
  return { ...state, coming, pictures: first?.picture ? new Map(state.pictures).set(step, first.picture) : state.pictures }
}

export class Bench {
  private state: BenchState
  private readonly listeners = new Set<() => void>()
  private asking: AbortController | null = null
  /** What was asked last: what is kept after it was tried is not drawn twice. */
  private asked: { key: string; asking: AbortController; answer: Promise<Drawing> } | null = null
  private resizing: AbortController | null = null
  private keeping: Promise<void> = Promise.resolve()
  private walking: Promise<{ step: Step; document: Document } | undefined> = Promise.resolve(undefined)
  /** What was said on top of the document, until the server has made the next document of it. */
  private said: Amendment[] = []
  private size = { width: 0, height: 0 }

  constructor(
    readonly version: number,
    document: Document,
    chart: Chart | null,
    private readonly ask: BenchServer = server,
    private readonly began: (chart: Chart) => void = () => {},
  ) {
    this.state = {
      chart,
      steps: chart?.steps ?? [],
      coming: [],
      pictures: new Map(),
      at: chart ? standing(chart) : 0,
      document,
      drawing: null,
      preview: null,
      lit: null,
      drawingNow: false,
      refusal: null,
      unsaved: null,
    }
  }

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  readonly get = () => this.state

  /** Paints a new picture before anything else hears of it: words follow, the eye waits for marks. */
  paint: ((drawing: Drawing) => void) | null = null

  private send(event: Event): void {
    const before = pictureOf(this.state)
    this.state = reduce(this.state, event)
    const picture = pictureOf(this.state)
    if (picture && picture !== before) this.paint?.(picture)
    this.listeners.forEach((listener) => listener())
  }

  /** Whether steps can be named, pinned and taken out. */
  get marks(): boolean {
    return Boolean(this.ask.markStep)
  }

  /** How large the chart is on the screen. */
  get paper(): { width: number; height: number } {
    return this.size
  }

  /** Sets the size of the paper; a real change draws again. */
  resize(width: number, height: number): void {
    if (Math.abs(width - this.size.width) < 2 && Math.abs(height - this.size.height) < 2) return
    this.size = { width, height }
    void this.drawAgain()
  }

  /** Draws what is said once more: more is known of it. */
  refresh(): void {
    void this.drawAgain()
  }

  /** Draws what is shown once more, with the places of dots as exact as they can be: a part of it is looked at closely. */
  lookClosely(): void {
    if (pictureOf(this.state)) void this.drawAgain(true)
  }

  /** Draws what is said for another size, or more exactly; a change that is on its way goes first. */
  private async drawAgain(fine = false): Promise<void> {
    const { document } = this.state
    if (!isWhole(document)) return
    this.resizing?.abort()
    const resizing = (this.resizing = new AbortController())
    if (!this.state.drawing) this.send({ kind: 'asked' })
    try {
      const drawing = await this.ask.draw(this.version, { document, ...this.size, ...(fine && { fine }) }, resizing.signal)
      if (!resizing.signal.aborted && this.state.document === document) this.send({ kind: 'resized', drawing })
    } catch (fault) {
      if (!resizing.signal.aborted && !this.state.drawing) this.send({ kind: 'refused', refusal: asRefusal(fault) })
    }
  }

  /** Draws, dropping whatever was being drawn; null when refused or overtaken. */
  private async draw(
    request: Request,
    preview = false,
    before = this.state.document,
    got: (drawing: Drawing) => void = () => {},
  ): Promise<Drawing | null> {
    if (this.size.width === 0) return null
    if (request.document && !isWhole(request.document)) return null
    const { asking, answer } = this.answered({ ...request, before, ...this.size, small: SMALL })
    try {
      const drawing = await answer
      if (asking.signal.aborted) return null
      got(drawing)
      this.send(preview ? { kind: 'previewed', drawing } : { kind: 'drawn', drawing })
      return drawing
    } catch (fault) {
      if (!asking.signal.aborted) this.send({ kind: 'refused', refusal: asRefusal(fault) })
      return null
    }
  }

  /** The answer to what was asked last, or to what is asked now instead of it. */
  private answered(request: Parameters<BenchServer['draw']>[1]): { asking: AbortController; answer: Promise<Drawing> } {
    const key = JSON.stringify(request)
    if (this.asked?.key !== key || this.asked.asking.signal.aborted) {
      this.asking?.abort()
      const asking = (this.asking = new AbortController())
      this.send({ kind: 'asked' })
      const asked = { key, asking, answer: this.ask.draw(this.version, request, asking.signal) }
      asked.answer.catch(() => this.asked === asked && (this.asked = null)) // a refusal is asked anew
      this.asked = asked
    }
    return this.asked
  }

  /** States the chart as the server made it, and keeps it as a step. */
  async change(document: Document): Promise<boolean> {
    this.said = []
    return this.settle({ document })
  }

  /** States the chart by a typed sentence; false leaves all as it was. */
  async type(typed: string): Promise<boolean> {
    this.said = []
    return this.settle({ typed })
  }

  /** Changes the chart in words; false leaves all as it was. What is said before the last is drawn comes on top of it. */
  async amend(amendment: Amendment): Promise<boolean> {
    this.said = [...this.said, amendment]
    const settled = await this.settle({ document: this.state.document, changes: this.said })
    if (settled || this.said.at(-1) !== amendment) return settled
    this.said = this.said.filter((one) => one !== amendment)
    if (this.said.length > 0) void this.settle({ document: this.state.document, changes: this.said }) // what it overtook
    return false
  }

  private async settle(request: Request): Promise<boolean> {
    const before = this.state.document
    if (request.document && !isWhole(request.document)) {
      this.state = { ...this.state, document: request.document } // half a sentence waits for its other half
      this.send({ kind: 'cleared' })
      return true
    }
    // What is said holds at once, so that a change that follows before it is drawn begins with it.
    const whole = request.document && !request.changes
    if (whole) this.send({ kind: 'said', document: request.document! })
    // The step is on its way to be kept while the chart is painted.
    const drawing = await this.draw(request, false, before, (drawing) => {
      this.said = this.said.slice(request.changes?.length ?? 0)
      if (JSON.stringify(drawing.document) !== JSON.stringify(before) || !this.state.chart) this.keep(drawing, before)
    })
    if (drawing) return true
    if (whole && this.state.document === request.document) this.send({ kind: 'said', document: before })
    return false
  }

  /** Keeps a step, one after the other, so that each follows the one before it. */
  private keep(drawing: Drawing, before: Document): void {
    const { document, words, small } = drawing
    this.state = reduce(this.state, { kind: 'coming', coming: { words, picture: small } }) // shown together with what was drawn
    this.keeping = this.keeping.then(async () => {
      try {
        if (!this.state.chart) {
          const chart = await this.ask.addChart(this.version, isWhole(before) ? before : document)
          this.send({ kind: 'began', chart })
          this.began(chart)
          if (JSON.stringify(chart.document) === JSON.stringify(document)) return this.send({ kind: 'arrived', step: chart.head_step_id })
        }
        this.send({ kind: 'stepped', step: await this.addStep(this.state.chart!.id, this.state.at, document, words) })
      } catch (fault) {
        this.send({ kind: 'unsaved', refusal: asRefusal(fault), coming: true })
      }
    })
  }

  /** Keeps a step; while nobody answers it is tried again, and stands in the trail as one that is coming. */
  private async addStep(chart: number, parent: number, document: Document, words: string): Promise<Step> {
    for (let tries = 0; ; tries++) {
      try {
        return (tries > 0 && (await this.keptUnheard(chart, parent, words))) || (await this.ask.addStep(chart, parent, document, words))
      } catch (fault) {
        if (!(fault instanceof Refusal) || fault.status !== 0) throw fault
        this.send({ kind: 'unsaved', refusal: new Refusal(0, 'the server does not answer', 'it is tried again'), coming: false })
        await new Promise((again) => setTimeout(again, KEEP_AGAIN))
      }
    }
  }

  /** A step that was kept although the answer was lost. */
  private async keptUnheard(chart: number, parent: number, words: string): Promise<Step | undefined> {
    const { steps } = (await this.ask.trail?.(chart)) ?? {}
    const known = new Set(this.state.steps.map((s) => s.id))
    return steps?.find((s) => !known.has(s.id) && s.parent_id === parent && s.words === words)
  }

  /** Keeps the chart as it stands, where nothing of it is kept yet; null where that could not be. */
  async keptChart(): Promise<Chart | null> {
    this.keeping = this.keeping.then(async () => {
      if (this.state.chart) return
      try {
        const chart = await this.ask.addChart(this.version, this.state.document)
        this.send({ kind: 'began', chart })
        this.began(chart)
      } catch (fault) {
        this.send({ kind: 'unsaved', refusal: asRefusal(fault), coming: false })
      }
    })
    await this.keeping
    return this.state.chart
  }

  /** Waits until every step is kept. */
  settled(): Promise<void> {
    return this.keeping
  }

  /** Tries a document on the chart; null takes the trial away. */
  async preview(document: Document | null): Promise<void> {
    if (document === null) {
      this.asking?.abort()
      this.send({ kind: 'previewed', drawing: null })
      return
    }
    await this.draw({ document }, true)
  }

  /** Tries a typed sentence on the chart; a mistake in it leaves the chart as it is. */
  async previewTyped(typed: string): Promise<void> {
    await this.draw({ typed }, true)
  }

  /** Walks to a step of the trail. */
  async walkTo(step: Step): Promise<void> {
    await this.keeping
    const document = await this.standAt(step)
    if (document) await this.drawStep(step, document)
  }

  /**
   * Walks a step back or on, from where the chart stands once what is coming is kept, not from the step before that; one
   * press after the other.
   */
  async walk(way: 'back' | 'on'): Promise<void> {
    const walked = (this.walking = this.walking.then(async () => {
      await this.keeping
      const step = way === 'back' ? this.previous() : this.next()
      const document = step && (await this.standAt(step))
      return document ? { step, document } : undefined
    }))
    const there = await walked
    if (there) await this.drawStep(there.step, there.document)
  }

  /** Documents of steps that were asked for. */
  private readonly documents = new Map<number, Document>()

  private async standAt(step: Step): Promise<Document | null> {
    try {
      let document = step.document ?? this.documents.get(step.id)
      if (!document) {
        document = (await this.ask.step!(this.state.chart!.id, step.id)).document!
        this.documents.set(step.id, document)
      }
      this.said = []
      this.send({ kind: 'moved', step, document })
      return document
    } catch (fault) {
      this.send({ kind: 'refused', refusal: asRefusal(fault) })
      return null
    }
  }

  /** Names a step, or pins it. */
  async mark(step: Step, change: { name?: string; pinned?: boolean }): Promise<void> {
    await this.ask.markStep!(this.state.chart!.id, step.id, change)
    this.send({ kind: 'trail', steps: this.state.steps.map((s) => (s.id === step.id ? { ...s, ...change } : s)) })
  }

  /** Takes a step out with all that follow it, and gives how many these were; who stands there walks to the step before. */
  async takeOut(step: Step): Promise<number> {
    await this.keeping
    const gone = followers(this.state.steps, step.id)
    const before = this.state.steps.find((s) => s.id === step.parent_id)
    if (gone.has(this.state.at) && before) await this.walkTo(before)
    await this.keeping
    const count = await this.ask.takeStepOut!(this.state.chart!.id, step.id)
    this.send({ kind: 'trail', steps: this.state.steps.filter((s) => !gone.has(s.id)) })
    return count
  }

  /** Puts back what was taken out with a step. */
  async putBack(step: number): Promise<void> {
    await this.ask.putStepBack!(this.state.chart!.id, step)
    await this.lookAgain()
  }

  /** Takes a step over that was kept elsewhere; false where it is known already, or is one's own that is on its way. */
  took(step: Step, own: boolean): boolean {
    if (this.state.steps.some((s) => s.id === step.id)) return false
    if (own && this.state.coming.length > 0) {
      void this.keeping.then(() => this.lookAgain()).catch(() => {})
      return false
    }
    this.send({ kind: 'trail', steps: [...this.state.steps, step] })
    return true
  }

  /** Takes over what others made of the trail; where one stands is one's own. */
  async lookAgain(): Promise<void> {
    const { chart } = this.state
    if (!chart?.id || !this.ask.trail) return
    const { steps } = await this.ask.trail(chart.id)
    await this.keeping
    const known = new Set(steps?.map((s) => s.id))
    const mine = this.state.steps.filter((s) => !known.has(s.id) && (s.id < 0 || s.id > (steps?.at(-1)?.id ?? 0))) // kept meanwhile, or a reader's own
    this.send({ kind: 'trail', steps: [...(steps ?? []), ...mine] })
  }

  private async drawStep(step: Step, document: Document): Promise<void> {
    await this.draw({ document })
    this.keeping = this.keeping.then(async () => {
      try {
        await this.ask.moveTo(this.state.chart!.id, step.id)
      } catch (fault) {
        this.send({ kind: 'unsaved', refusal: asRefusal(fault), coming: false })
      }
    })
  }

  /** The step before the one that the chart stands at. */
  previous(): Step | undefined {
    const here = this.state.steps.find((s) => s.id === this.state.at)
    return this.state.steps.find((s) => s.id === here?.parent_id)
  }

  /** The newest step that follows the one that the chart stands at. */
  next(): Step | undefined {
    return this.state.steps.findLast((s) => s.parent_id === this.state.at)
  }

  /** Draws what is said once more, after it was stopped or the server was busy. */
  async again(): Promise<void> {
    await this.draw({ document: this.state.document })
  }

  /** Lights what a sentence speaks of on the chart; once more puts it out. */
  light(speaks: Shown): void {
    this.send({ kind: 'lit', speaks: this.state.lit === speaks ? null : speaks })
  }

  clearRefusal(): void {
    if (this.state.refusal) this.send({ kind: 'cleared' })
  }
}

function asRefusal(fault: unknown): Refusal {
  return fault instanceof Refusal ? fault : new Refusal(0, 'something went wrong on this page', String(fault))
}
