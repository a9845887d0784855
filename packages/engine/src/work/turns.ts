/**
 * Keeps work that changes things apart from work that reads them: readings run side by side in slices, a change waits
 * until none is under way, and those that come later wait for it.
 */
export class Turns {
  private readonly reading = new Set<Promise<unknown>>()
  private changing: Promise<unknown> = Promise.resolve()

  async read<T>(start: () => Promise<T>): Promise<T> {
    await this.changing
    return await this.run(start)
  }

  /**
   * Reads where something holds; where it does not, it is changed first, and read before anything else changes: who reads
   * must not wait for ever while one change follows another.
   */
  async readAfter<T>(holds: () => boolean, change: () => Promise<void>, start: () => Promise<T>): Promise<T> {
    await this.changing
    if (holds()) return await this.run(start)
    const reading = await this.change(async () => {
      if (!holds()) await change()
      const running = this.run(start)
      // Whoever waits for it hears of a failure below.
      running.catch(() => {})
      return { running }
    })
    return await reading.running
  }

  change<T>(start: () => Promise<T>): Promise<T> {
    const running = this.changing.then(async () => {
      await Promise.allSettled(this.reading)
      return await start()
    })
    this.changing = running.catch(() => {})
    return running
  }

  private async run<T>(start: () => Promise<T>): Promise<T> {
    const running = start()
    this.reading.add(running)
    try {
      return await running
    } finally {
      this.reading.delete(running)
    }
  }
}
