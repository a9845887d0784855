/** How long an answer is waited for. */
export class Silence {
  isOver = false
  readonly reason: string
  private readonly given = new AbortController()
  private readonly timer: ReturnType<typeof setTimeout>
  private readonly outer: AbortSignal | undefined
  private readonly giveUp = (): void => this.given.abort()

  constructor(seconds: number, outer: AbortSignal | undefined) {
    this.reason = `no answer within ${seconds} seconds`
    this.outer = outer
    if (outer?.aborted) this.giveUp()
    outer?.addEventListener('abort', this.giveUp, { once: true })
    this.timer = setTimeout(() => {
      this.isOver = true
      this.giveUp()
    }, seconds * 1000)
  }

  get signal(): AbortSignal {
    return this.given.signal
  }

  end(): void {
    clearTimeout(this.timer)
    this.outer?.removeEventListener('abort', this.giveUp)
  }
}
