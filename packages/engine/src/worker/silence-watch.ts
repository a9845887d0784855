const TICK_MS = 1000
/** After so many ticks in which nothing is heard the worker is asked whether it is there, and after so many it is not. */
const [ASK_AFTER, GONE_AFTER] = [5, 45]

/**
 * Notices that a worker is no more: a browser that takes its memory away tells nobody. It counts ticks rather than time,
 * so that a page that slept itself takes nobody for dead; work answers between its slices, so that it takes none either.
 */
export class SilenceWatch {
  private readonly ask: () => void
  private readonly gone: () => void
  private timer: ReturnType<typeof setInterval> | null = null
  private ticks = 0

  constructor(ask: () => void, gone: () => void) {
    this.ask = ask
    this.gone = gone
  }

  /** Something is waited for. */
  begin(): void {
    this.timer ??= setInterval(() => this.tick(), TICK_MS)
  }

  /** The worker said something. */
  heard(): void {
    this.ticks = 0
  }

  /** Nothing is waited for any more. */
  end(): void {
    if (this.timer !== null) clearInterval(this.timer)
    this.timer = null
    this.ticks = 0
  }

  private tick(): void {
    this.ticks++
    if (this.ticks % ASK_AFTER === 0) this.ask()
    if (this.ticks < GONE_AFTER) return
    this.end()
    this.gone()
  }
}
