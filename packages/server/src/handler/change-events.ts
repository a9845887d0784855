import { ReadableStream } from 'node:stream/web'
import { QuestionError } from '../language/problem.ts'
import { HEADERS } from './answers.ts'

/** What keeps a line open on which nothing happens; what stands between closes those that are silent. */
const BEAT_MS = 15_000
const BEAT = ': nothing\n\n'

/**
 * Tells whoever listens that rows of a table were changed, as a stream of server-sent events (HTML standard, 9.2). It
 * says that something is different, never what: who may see what is asked then.
 */
export class ChangeEvents {
  private readonly most: number
  private readonly listeners = new Map<string, Set<(text: string) => void>>()
  private open = 0

  constructor(most: number) {
    this.most = most
  }

  tell(table: string): void {
    for (const listener of this.listeners.get(table) ?? []) listener('event: changed\ndata: {}\n\n')
  }

  /** A stream that ends when whoever asked has left. */
  stream(table: string, signal: AbortSignal): Response {
    if (this.open >= this.most) throw new QuestionError({ code: 'too-busy' })
    this.open++
    const listeners = this.listeners.get(table) ?? new Set()
    this.listeners.set(table, listeners)
    /** Whether it had not ended before: whoever leaves may end it in two ways. */
    let end = (): boolean => false
    const body = new ReadableStream<Uint8Array>({
      start: controller => {
        const encoder = new TextEncoder()
        const send = (text: string): void => controller.enqueue(encoder.encode(text))
        const beat = setInterval(() => send(BEAT), BEAT_MS)
        end = (): boolean => {
          if (!listeners.delete(send)) return false
          clearInterval(beat)
          this.open--
          return true
        }
        listeners.add(send)
        signal.addEventListener(
          'abort',
          () => {
            if (end()) controller.close()
          },
          { once: true },
        )
        send('retry: 2000\n\n')
      },
      cancel: () => void end(),
    })
    return answerOf(body)
  }
}

/** The typings of streams that are at hand in Node and in a page do not agree. */
const answerOf = (body: unknown): Response =>
  new Response(body as ConstructorParameters<typeof Response>[0], {
    headers: { ...HEADERS, 'content-type': 'text/event-stream', 'x-accel-buffering': 'no' },
  })
