import { CancelledError } from '../work/work.ts'

/** Lets a few work at once; others wait for their turn, and who gives up waits no more. */
export class Turns {
  private readonly atOnce: number
  private working = 0
  private readonly waiting: (() => void)[] = []

  constructor(atOnce: number) {
    this.atOnce = atOnce
  }

  async take<T>(work: () => Promise<T>, signal?: AbortSignal): Promise<T> {
    if (this.working >= this.atOnce) await this.turn(signal)
    else this.working++
    try {
      return await work()
    } finally {
      // The turn is handed on, so that nobody comes in between.
      const next = this.waiting.shift()
      if (next) next()
      else this.working--
    }
  }

  private turn(signal?: AbortSignal): Promise<void> {
    return new Promise((resolve, reject) => {
      const giveUp = (): void => {
        const place = this.waiting.indexOf(go)
        if (place >= 0) this.waiting.splice(place, 1)
        reject(new CancelledError())
      }
      const go = (): void => {
        signal?.removeEventListener('abort', giveUp)
        resolve()
      }
      this.waiting.push(go)
      signal?.addEventListener('abort', giveUp, { once: true })
    })
  }
}
