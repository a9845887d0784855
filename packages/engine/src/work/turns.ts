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

  /** Reads where something holds; where it does not, it is changed first, and looked at again before the reading. */
  async readAfter<T>(holds: () => boolean, change: () => Promise<void>, start: () => Promise<T>): Promise<T> {
    for (;;) {
      await this.changing
      if (holds()) return await this.run(start)
      await this.change(async () => {
        if (!holds()) await change()
      })
    }
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
