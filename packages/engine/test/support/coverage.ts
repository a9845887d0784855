import { Session, type Profiler } from 'node:inspector'

/** Tells which parts of the sources a run goes through, by the language's own count of blocks. */
export class Coverage {
  private readonly session = new Session()
  private readonly seen = new Set<string>()
  private readonly folder: string

  /** `folder`: part of the paths of the sources that count. */
  constructor(folder: string) {
    this.folder = folder
  }

  async start(): Promise<void> {
    this.session.connect()
    await this.post('Profiler.enable')
    await this.post('Profiler.startPreciseCoverage', { callCount: true, detailed: true })
  }

  /** How many parts were gone through since the last look that never were before; how often counts roughly. */
  async news(): Promise<number> {
    const { result } = (await this.post(
      'Profiler.takePreciseCoverage',
    )) as Profiler.TakePreciseCoverageReturnType
    let news = 0
    for (const { url, scriptId, functions } of result) {
      if (!url.includes(this.folder)) continue
      for (const { ranges } of functions) {
        for (const { startOffset, endOffset, count } of ranges) {
          if (count === 0) continue
          const often = count > 8 ? 8 : count > 1 ? 2 : 1
          const part = `${scriptId}:${startOffset}:${endOffset}:${often}`
          if (this.seen.has(part)) continue
          this.seen.add(part)
          news++
        }
      }
    }
    return news
  }

  private post(method: string, params: object = {}): Promise<unknown> {
    return new Promise((resolve, reject) => {
      this.session.post(method, params, (error, answer) => (error ? reject(error) : resolve(answer)))
    })
  }

  stop(): void {
    this.session.disconnect()
  }
}
