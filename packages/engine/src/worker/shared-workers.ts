import type { EnginePort } from './worker-source.ts'

/** A worker that several sources use, each over a port of its own. */
interface Shared {
  /** The worker; why there is none. */
  readonly started: Promise<EnginePort | string>
  users: number
}

/** So many workers are shared at most, by as many sources as there are; one processor stays for the page. */
export const mostShared = (): number => {
  const { navigator } = globalThis as { readonly navigator?: { readonly hardwareConcurrency?: number } }
  return Math.max(1, Math.min(4, (navigator?.hardwareConcurrency ?? 2) - 1))
}

/**
 * The workers of sources whose rows are few enough to share one: a page of fifty small grids starts a handful and not
 * fifty. A source takes the worker that the fewest use, and the last that leaves one ends it.
 */
export class SharedWorkers {
  private readonly start: () => Promise<EnginePort | string>
  private readonly untilReady: (port: EnginePort) => Promise<void>
  private readonly most: number
  private shared: Shared[] = []

  /** `start`: starts one more worker; `most`: how many at most. */
  constructor(
    start: () => Promise<EnginePort | string>,
    untilReady: (port: EnginePort) => Promise<void>,
    most = mostShared(),
  ) {
    this.start = start
    this.untilReady = untilReady
    this.most = most
  }

  /** A port to a worker; why there is none. Ending it leaves the worker to the others. */
  async port(): Promise<EnginePort | string> {
    const one = this.choose()
    one.users++
    try {
      const worker = await one.started
      if (typeof worker === 'string') {
        this.leave(one, null)
        return worker
      }
      const { port1, port2 } = new MessageChannel()
      const ready = this.untilReady(port1)
      worker.postMessage({ id: 0, call: 'join', port: port2 }, [port2])
      await ready
      let isLeft = false
      return Object.assign(port1 as EnginePort, {
        terminate: () => {
          if (isLeft) return
          isLeft = true
          port1.postMessage({ id: 0, call: 'leave' })
          this.leave(one, worker)
        },
      })
    } catch (error) {
      this.leave(one, await one.started.then(worker => (typeof worker === 'string' ? null : worker)))
      return error instanceof Error ? error.message : String(error)
    }
  }

  private choose(): Shared {
    if (this.shared.length < this.most) {
      const one: Shared = { started: this.start(), users: 0 }
      this.shared.push(one)
      return one
    }
    return this.shared.reduce((a, b) => (b.users < a.users ? b : a))
  }

  private leave(one: Shared, worker: EnginePort | null): void {
    one.users--
    // One that could not be started is tried anew the next time.
    if (one.users > 0 && worker) return
    this.shared = this.shared.filter(other => other !== one)
    worker?.terminate?.()
    worker?.close?.()
  }
}
