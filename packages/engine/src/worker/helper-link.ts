import type { HelperTask } from '../flow/flow.ts'
import type { Helper } from '../work/helper.ts'
import type { MakeHelper } from '../source/made-up/make-by-threads.ts'
import type { ReadHelper, ShareTask } from '../read/csv/share-task.ts'
import type { FromHelper, FromWorker, HelperQuestions, ToHelper, ToWorker } from './messages.ts'

/** What is needed of a worker that shall help. */
export interface HelperPort {
  postMessage(message: ToWorker, transfer: Transferable[]): void
  onmessage: ((event: MessageEvent<FromWorker>) => void) | null
  onerror: ((event: ErrorEvent) => void) | null
  terminate(): void
}

/** Where helpers come from and how many there shall be. */
export interface HelperPlacement {
  readonly count: number
  /** Starts one more worker; null where there can be none. */
  start(): HelperPort | null
}

/** A helper that has not said it is ready by then is done without. */
const READY_MS = 1000
/** More threads than these wait for memory, not for each other's work. */
const MOST_HELPERS = 3

/**
 * The worker's own script once more (it serves an engine or helps one, as it is told first), for every core but the
 * engine's own, up to a handful.
 */
export function helpersHere(): HelperPlacement {
  const scope = globalThis as {
    location?: { readonly href: string }
    navigator?: { readonly hardwareConcurrency: number }
    Worker?: typeof Worker
  }
  return {
    count: Math.min(MOST_HELPERS, (scope.navigator?.hardwareConcurrency ?? 1) - 1),
    start() {
      if (!scope.Worker || !scope.location) return null
      try {
        return new scope.Worker(scope.location.href, { type: 'module' })
      } catch {
        return null
      }
    },
  }
}

export const startHelpers = (placement: HelperPlacement): HelperLink[] =>
  Array.from({ length: Math.max(0, placement.count) }, () => placement.start()).flatMap(port =>
    port ? [new HelperLink(port)] : [],
  )

/** Those of them that are there; the others are done without. */
export async function readyHelpers(started: readonly HelperLink[]): Promise<HelperLink[]> {
  const ready = await Promise.all(started.map(link => link.ready))
  return started.filter((_, i) => ready[i])
}

/** The other end of a helper's thread. */
export class HelperLink implements Helper<HelperTask>, ReadHelper, MakeHelper {
  private readonly port: HelperPort
  /**
   * What is posted to a worker leaves a thread when its task ends, what is posted to a channel leaves at once; tasks
   * are handed over in the middle of long work.
   */
  private readonly tasks: MessagePort
  private open = true
  private readonly waiting = new Map<
    number,
    { resolve: (answer: unknown) => void; reject: (error: Error) => void }
  >()
  private lastId = 0
  /** Resolves when it is known whether the helper is there. */
  readonly ready: Promise<boolean>

  /** `patience`: ms until it is done without. */
  constructor(port: HelperPort, patience = READY_MS) {
    this.port = port
    const { port1, port2 } = new MessageChannel()
    this.tasks = port1
    this.ready = new Promise(resolve => {
      const timer = setTimeout(() => settle(false), patience)
      const settle = (ready: boolean): void => {
        clearTimeout(timer)
        if (!ready) this.close()
        resolve(ready)
      }
      port.onerror = event => {
        event.preventDefault()
        settle(false)
      }
      port.onmessage = ({ data }) => {
        if (!('ready' in data)) return
        port.postMessage({ id: 0, call: 'helper', tasks: port2 }, [port2])
      }
      port1.onmessage = ({ data }: MessageEvent<FromHelper>) => {
        if (data === 'listening') settle(true)
        else this.hear(data)
      }
    })
  }

  get alive(): boolean {
    return this.open
  }

  hand(task: HelperTask | ShareTask): void {
    this.post(task)
  }

  ask<Name extends keyof HelperQuestions>(
    question: { readonly call: Name } & HelperQuestions[Name]['asked'],
  ): Promise<HelperQuestions[Name]['answer']> {
    return new Promise((resolve, reject) => {
      if (!this.open) {
        reject(new Error('The helper is closed.'))
        return
      }
      const id = ++this.lastId
      // What is answered is the question's answer, which the checker cannot see through the port.
      this.waiting.set(id, { resolve: answer => resolve(answer as HelperQuestions[Name]['answer']), reject })
      this.post({ id, question } as ToHelper)
    })
  }

  private post(message: ToHelper): void {
    this.tasks.postMessage(message)
  }

  private hear(message: Exclude<FromHelper, 'listening'>): void {
    const waiting = this.waiting.get(message.id)
    this.waiting.delete(message.id)
    if ('answer' in message) waiting?.resolve(message.answer)
    else waiting?.reject(new Error('The helper could not answer.'))
  }

  close(): void {
    this.open = false
    for (const { reject } of this.waiting.values()) reject(new Error('The helper is closed.'))
    this.waiting.clear()
    this.tasks.close()
    this.port.terminate()
  }
}
