import type { Contents, StoryPage, Block } from '../api/client'

/** What a draft asks of the server. */
export interface PageServer {
  write: (base: Contents, contents: Contents) => Promise<StoryPage & { twice: number }>
  again: () => Promise<StoryPage>
}

/** Where what was written waits while the server does not have it. */
export interface Shelf {
  get: () => string | null
  set: (text: string | null) => void
}

export interface DraftState {
  contents: Contents
  /** kept: the server has all of it. waiting: it will be sent in a moment. trying: the server did not take it, and is asked again. */
  status: 'kept' | 'waiting' | 'sending' | 'trying'
  trouble: string
  /** Of how many blocks two versions were kept, since two changed the same one. */
  twice: number
  keptAt: number
  changedBy: string
}

/** How long after the last change it is sent, how often a server that failed is asked, and how often others' changes are asked for. */
export const SEND_AFTER = 500
const TRY_AGAIN = 3000
export const LOOK_EVERY = 4000
const MOST_UNDO = 200
/** Changes of one kind within this time are one step of undo. */
const ONE_STEP = 1500

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/**
 * A page while it is written. base is what the server is known to have; contents is what is on the screen. What is sent carries
 * both, so that the server can put together what several write; what was written meanwhile here is sent on top of that.
 */
export class PageDraft {
  private state: DraftState
  private base: Contents
  private readonly heard = new Set<() => void>()
  private readonly undone: { contents: Contents; kind: string; at: number }[] = []
  private timer = 0
  private sending = false
  private ended = false

  constructor(
    page: StoryPage,
    private readonly server: PageServer,
    private readonly shelf: Shelf,
    private readonly now: () => number = Date.now,
  ) {
    this.base = page.contents
    this.state = {
      contents: page.contents,
      status: 'kept',
      trouble: '',
      twice: 0,
      keptAt: Date.parse(page.changed_at),
      changedBy: page.changed_by,
    }
    const waiting = shelf.get()
    if (!waiting) return
    const { base, contents } = JSON.parse(waiting) as { base: Contents; contents: Contents }
    if (same(base, contents)) return
    this.base = base
    this.set({ contents, status: 'waiting' })
    this.soon(0)
  }

  get = (): DraftState => this.state

  listen = (hear: () => void): (() => void) => {
    this.heard.add(hear)
    return () => void this.heard.delete(hear)
  }

  private set(change: Partial<DraftState>): void {
    this.state = { ...this.state, ...change }
    for (const hear of this.heard) hear()
  }

  /** Changes what is written; kind tells which changes one press takes back together. */
  change(kind: string, next: (contents: Contents) => Contents): void {
    const before = this.state.contents
    const contents = next(before)
    if (contents === before) return
    const last = this.undone.at(-1)
    if (!last || last.kind !== kind || this.now() - last.at > ONE_STEP) this.undone.push({ contents: before, kind, at: this.now() })
    else last.at = this.now()
    if (this.undone.length > MOST_UNDO) this.undone.shift()
    this.put(contents)
  }

  changeBlock(kind: string, id: string, next: (block: Block) => Block): void {
    this.change(`${kind} ${id}`, (c) => ({ ...c, blocks: c.blocks.map((b) => (b.id === id ? next(b) : b)) }))
  }

  private put(contents: Contents): void {
    this.set({ contents, status: this.state.status === 'trying' ? 'trying' : 'waiting', twice: 0 })
    this.shelf.set(JSON.stringify({ base: this.base, contents }))
    this.soon(SEND_AFTER)
  }

  get canUndo(): boolean {
    return this.undone.length > 0
  }

  undo(): void {
    const last = this.undone.pop()
    if (last) this.put(last.contents)
  }

  private soon(after: number): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.send(), after) as unknown as number
  }

  private async send(): Promise<void> {
    if (this.sending || this.ended || same(this.base, this.state.contents)) return
    this.sending = true
    const sent = this.state.contents
    if (this.state.status !== 'trying') this.set({ status: 'sending' })
    try {
      const written = await this.server.write(this.base, sent)
      this.took(written, sent)
      if (written.twice) this.set({ twice: written.twice })
    } catch (fault) {
      this.set({ status: 'trying', trouble: fault instanceof Error ? fault.message : String(fault) })
      if (!this.ended) this.soon(TRY_AGAIN)
    } finally {
      this.sending = false
    }
  }

  /** The server has what was sent, with what others wrote. */
  private took(page: StoryPage, sent: Contents): void {
    const more = this.state.contents !== sent // written meanwhile, from what was sent
    this.base = more ? sent : page.contents
    const known = { keptAt: Date.parse(page.changed_at), changedBy: page.changed_by, trouble: '' }
    if (more) {
      this.set({ ...known, status: 'waiting' })
      this.shelf.set(JSON.stringify({ base: this.base, contents: this.state.contents }))
      this.soon(SEND_AFTER)
      return
    }
    this.shelf.set(null)
    this.set({ ...known, status: 'kept', contents: same(page.contents, sent) ? sent : page.contents })
  }

  /** Takes what others wrote, where nothing of one's own waits. */
  async look(): Promise<void> {
    if (this.ended || this.sending || this.state.status !== 'kept') return
    const before = this.state.contents
    try {
      const page = await this.server.again()
      if (this.state.status !== 'kept' || this.state.contents !== before || same(page.contents, this.base)) return
      this.base = page.contents
      this.set({ contents: page.contents, keptAt: Date.parse(page.changed_at), changedBy: page.changed_by })
    } catch {
      // asked again soon
    }
  }

  /** Sends what waits, at once. */
  async flush(): Promise<void> {
    clearTimeout(this.timer)
    await this.send()
  }

  end(): void {
    this.ended = true
    clearTimeout(this.timer)
    if (!same(this.base, this.state.contents) && !this.sending)
      void this.server.write(this.base, this.state.contents).then(
        () => this.shelf.set(null),
        () => {}, // it waits on its shelf
      )
  }
}

/** A name for a block that no other has. */
export const blockId = (): string => crypto.randomUUID().slice(0, 13)

/** The blocks with one at another place among them. */
export function moved(contents: Contents, id: string, by: -1 | 1): Contents {
  const from = contents.blocks.findIndex((b) => b.id === id)
  return placed(contents, id, from + by)
}

export function placed(contents: Contents, id: string, to: number): Contents {
  const from = contents.blocks.findIndex((b) => b.id === id)
  if (from < 0 || to < 0 || to >= contents.blocks.length || to === from) return contents
  const blocks = [...contents.blocks]
  const [block] = blocks.splice(from, 1)
  blocks.splice(to, 0, block)
  return { ...contents, blocks }
}
