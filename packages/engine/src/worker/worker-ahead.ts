import type { EnginePort } from './worker-source.ts'

/** So long a worker waits for rows that do not come. */
const KEPT_MS = 60_000

/** One worker that is started before there are rows for it: starting takes a good part of the time to the first of them. */
export class WorkerAhead {
  private readonly start: () => Promise<EnginePort | string>
  private waiting: Promise<EnginePort | string> | null = null
  private timer: ReturnType<typeof setTimeout> | undefined

  constructor(start: () => Promise<EnginePort | string>) {
    this.start = start
  }

  /** Starts one, or lets the one that waits wait on. */
  begin(): void {
    this.waiting ??= this.start()
    clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      void this.take()?.then(port => typeof port !== 'string' && port.terminate?.())
    }, KEPT_MS)
  }

  /** The one that waits, or why it could not be started; null: there is none. It is the caller's from then on. */
  take(): Promise<EnginePort | string> | null {
    const { waiting } = this
    this.waiting = null
    clearTimeout(this.timer)
    return waiting
  }
}
