import { CancelledError } from '@vast-meadow/engine/client'

/** A promise that is kept once: what comes first counts. */
export class Ready {
  readonly promise: Promise<void>
  settled = false
  private resolve: () => void = () => {}
  private reject: (reason: unknown) => void = () => {}

  constructor() {
    this.promise = new Promise((resolve, reject) => {
      this.resolve = resolve
      this.reject = reject
    })
    // Whoever does not ask hears of failures otherwise.
    this.promise.catch(() => {})
  }

  done(): void {
    this.settled = true
    this.resolve()
  }

  fail(reason: unknown): void {
    this.settled = true
    this.reject(reason)
  }

  giveUp(): void {
    this.fail(new CancelledError())
  }
}
