/**
 * Long work is written as a generator that yields between slices. Whoever runs it decides what happens there:
 * nothing (run to the end), a look at a shared flag, or a pause in which messages are heard.
 */
export type Work<T> = Generator<undefined, T, undefined>

/** Elements that one slice of a pass handles; about a millisecond of a simple loop. */
export const SLICE = 1 << 17

/** Thrown by `runSliced` when its work was cancelled before the end. */
export class CancelledError extends Error {
  override readonly name = 'CancelledError'
  constructor() {
    super('The work was cancelled.')
  }
}

/** Runs work to its end at once. */
export function finish<T>(work: Work<T>): T {
  for (;;) {
    const step = work.next()
    if (step.done) return step.value
  }
}

/** Starts work at once: its first slice runs now, the others when the returned work does. */
export function begin<T>(work: Work<T>): Work<T> {
  const first = work.next()
  return (function* () {
    if (first.done) return first.value
    yield
    return yield* work
  })()
}

export interface SliceOptions {
  /** Asked between slices; `true` ends the work with a `CancelledError`. */
  readonly cancelled?: () => boolean
  /** Milliseconds after which the work pauses so that others get their turn; default 8. `Infinity`: never. */
  readonly sliceMs?: number
}

/** Runs work in slices and gives way to other tasks between them. Rejects with `CancelledError` when cancelled. */
export async function runSliced<T>(work: Work<T>, options: SliceOptions = {}): Promise<T> {
  const sliceMs = options.sliceMs ?? 8
  let started = performance.now()
  for (;;) {
    const step = work.next()
    if (step.done) return step.value
    if (options.cancelled?.()) stop(work)
    if (performance.now() - started >= sliceMs) {
      await breathe()
      if (options.cancelled?.()) stop(work)
      started = performance.now()
    }
  }
}

function stop(work: Work<unknown>): never {
  work.return(undefined)
  throw new CancelledError()
}

type Immediate = (callback: () => void) => unknown
const immediate = (globalThis as { setImmediate?: Immediate }).setImmediate

let waiting: (() => void)[] = []
let channel: MessageChannel | undefined

/**
 * Resolves in a new task, so that messages, input and painting are served first. By a message to itself, because
 * browsers hold timers to 4 ms; in Node, which serves one port's messages in a row, by `setImmediate`.
 */
export function breathe(): Promise<void> {
  return new Promise(resolve => {
    if (immediate) {
      immediate(resolve)
      return
    }
    waiting.push(resolve)
    openChannel().port2.postMessage(0)
  })
}

function openChannel(): MessageChannel {
  if (!channel) {
    channel = new MessageChannel()
    channel.port1.onmessage = () => {
      const ready = waiting
      waiting = []
      for (const resume of ready) resume()
    }
  }
  return channel
}
