/** Who has a chart open beside oneself, and the steps of others as they come. */
import type { Here, Step } from '../api/client'
import type { Bench } from './bench'
import { Following } from './following'

export interface TogetherState {
  /** Whether the server answers; what is on the screen stays while it does not. */
  connected: boolean
  /** Who else has the chart open. */
  others: Here[]
  /** The last step that somebody else made, for a minute. */
  fresh: Step | null
}

/** How long a step of another is called fresh, in milliseconds. */
const FRESH = 60_000

export class Together {
  private state: TogetherState = { connected: true, others: [], fresh: null }
  private readonly heard = new Set<() => void>()
  private readonly following: Following

  constructor(
    private readonly bench: Bench,
    private readonly me: number,
    notes: () => void,
  ) {
    this.following = new Following(
      {
        step: (data) => this.stepped(JSON.parse(data) as Step),
        trail: () => void this.bench.lookAgain().catch(() => {}),
        notes,
        people: (data) => this.set({ others: (JSON.parse(data) as Here[]).filter((h) => h.person_id !== this.me) }),
      },
      (connected) => this.set(connected ? { connected } : { connected, others: [] }),
    )
  }

  get = (): TogetherState => this.state

  listen = (hear: () => void): (() => void) => {
    this.heard.add(hear)
    return () => void this.heard.delete(hear)
  }

  private set(change: Partial<TogetherState>): void {
    this.state = { ...this.state, ...change }
    for (const hear of this.heard) hear()
  }

  /** Follows a chart from what is known of it on. */
  follow(chart: number, after: number): void {
    this.following.follow(`/api/charts/${chart}/events`, after)
  }

  private stepped(step: Step): void {
    if (!this.bench.took(step, step.person_id === this.me) || step.person_id === this.me) return
    this.set({ fresh: step })
    window.setTimeout(() => this.state.fresh === step && this.set({ fresh: null }), FRESH)
  }

  /** The fresh step was looked at. */
  seen(): void {
    this.set({ fresh: null })
  }

  leave(): void {
    this.following.leave()
  }
}
