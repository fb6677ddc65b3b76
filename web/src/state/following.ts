/** What happens with a chart, a dataset or a page, as server-sent events: resumed from the last one that came, and asked anew where a line was cut. */
import { inSpace } from '../api/space'

/** What is told of each kind of event, with its data as it came. */
export type Heard = Record<string, (data: string) => void>

/** After which silence a server is asked anew, which tells every 8 seconds who is here; and how soon after it was lost. */
const SILENT = 25_000
const AGAIN = 2000

export class Following {
  private source: EventSource | null = null
  private timer = 0
  private stop = new AbortController()

  constructor(
    private readonly heard: Heard,
    private readonly connected: (is: boolean) => void,
  ) {}

  /** Follows a stream from what is known of it on. */
  follow(path: string, after = 0): void {
    this.leave()
    const source = (this.source = new EventSource(inSpace(`${path}?after=${after}`)))
    let last = after
    const again = (soon: number) => {
      this.connected(false)
      clearTimeout(this.timer)
      this.timer = window.setTimeout(() => this.follow(path, last), soon)
    }
    source.onerror = () => again(AGAIN)
    for (const [kind, about] of Object.entries(this.heard))
      source.addEventListener(kind, (e) => {
        const { data, lastEventId } = e as MessageEvent<string>
        last = Number(lastEventId) || last
        this.connected(true)
        clearTimeout(this.timer)
        this.timer = window.setTimeout(() => again(0), SILENT) // a line that is cut somewhere tells nobody
        about(data)
      })
    const { signal } = (this.stop = new AbortController())
    addEventListener('offline', () => again(AGAIN), { signal })
    addEventListener('online', () => this.follow(path, last), { signal })
  }

  leave(): void {
    this.stop.abort()
    clearTimeout(this.timer)
    this.source?.close()
    this.source = null
  }
}
