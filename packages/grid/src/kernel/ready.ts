import { CancelledError } from '@vast-meadow/engine/client'

/** A promise that is kept once: what comes first counts. */
export class Ready {
  readonly promise: Promise<void>
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
    this.resolve()
  }

  fail(reason: unknown): void {
    this.reject(reason)
  }

  giveUp(): void {
    this.reject(new CancelledError())
  }
}
