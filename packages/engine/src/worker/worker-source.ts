import { canShare } from '../table/allocate.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import { columnIndexesOf, type Table } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import type { Formats } from '../flow/request.ts'
import { ViewReader, type FlowView } from '../flow/view.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../question/index.ts'
import type { RowRecord } from '../question/records.ts'
import {
  SourceError,
  type CallOptions,
  type LineReader,
  type OpenOptions,
  type Progress,
  type RowSource,
  type SourceChange,
  type StreamRequest,
  type View,
} from '../source/row-source.ts'
import type { SourceDescription } from '../question/source-description.ts'
import { type ViewRequest } from '../flow/view-request.ts'
import type { RowsInput } from '../source/rows-input.ts'
import { ChangeListeners } from '../source/change-listeners.ts'
import { transfersOf } from '../source/transfers.ts'
import { streamRows } from '../source/stream-rows.ts'
import { TileReader } from '../source/tile-reader.ts'
import { ViewLines } from '../source/view-lines.ts'
import { CancelledError } from '../work/work.ts'
import { EndedCalls } from './ended-calls.ts'
import { SilenceWatch } from './silence-watch.ts'
import type { CallName, Calls, FromWorker, QuestionAsked, ToWorker } from './messages.ts'

/** What is needed of a worker; a message port with an engine at its other end will do. */
export interface EnginePort {
  postMessage(message: ToWorker, transfer?: Transferable[]): void
  onmessage: ((event: MessageEvent<FromWorker>) => void) | null
  terminate?(): void
  close?(): void
}

interface Waiting {
  readonly resolve: (answer: unknown) => void
  readonly reject: (error: Error) => void
  readonly onProgress?: (progress: Progress) => void
}

/** A file is given up when the worker says nothing for so long; blocks of files take some milliseconds. */
const SILENCE_MS = 30_000

const needsFile = (input: RowsInput): boolean =>
  input.kind === 'file' || (input.kind === 'grown' && needsFile(input.of))

/**
 * The engine in a worker. With shared memory the page reads the viewport's cells itself; without, they are answered
 * in tiles, read ahead.
 */
export class WorkerSource implements RowSource {
  private readonly port: EnginePort
  private readonly input: RowsInput
  private readonly ended: EndedCalls | null
  private readonly waiting = new Map<number, Waiting>()
  private readonly tiles = new Set<TileReader>()
  private readonly listeners = new ChangeListeners()
  /** The call of `open` whose other rows are on their way. */
  private coming: { id: number; onProgress?: (progress: Progress) => void; end(): void } | null = null
  private lastId = 0
  /** That of the newest view, where this page sees it. */
  private table: Table | null = null
  private closed = false
  /** When the worker last said anything. */
  private heard = 0
  private readonly silence = new SilenceWatch(
    () => this.port.postMessage({ id: 0, call: 'ping' }),
    () => this.isGone(),
  )

  /** `share`: whether to use shared memory; default: where the page can. */
  constructor(port: EnginePort, input: RowsInput, share = canShare()) {
    this.port = port
    this.input = input
    this.ended = share ? new EndedCalls() : null
    port.onmessage = event => this.take(event.data)
  }

  async open(options: OpenOptions = {}): Promise<SourceDescription> {
    const { early = false, signal, onProgress } = options
    const args = { input: this.input, ended: this.ended?.memory ?? null, early }
    const opening = this.call('open', args, options, transfersOf(this.input))
    const id = this.lastId
    const description = await this.watched(opening, options)
    if (description.total.kind === 'exact') return description
    // The others are on their way: how far they are is told, and they can be given up.
    const cancel = (): void => this.cancel(id)
    signal?.addEventListener('abort', cancel)
    this.coming = { id, onProgress, end: () => signal?.removeEventListener('abort', cancel) }
    return description
  }

  async view(request: ViewRequest, options: CallOptions = {}): Promise<View> {
    const { lineCount, read, ...posted } = await this.call('view', { request }, options)
    const close = (): void => {
      if (!this.closed) void this.call('closeView', { view: posted.id }).catch(() => {})
    }
    this.table = read?.table ?? this.table
    if (read && this.table)
      return { ...posted, lines: linesRead(this.table, read.view, request.binding?.formats), close }
    const tiles: TileReader = new TileReader(lineCount, (from, to, columns) =>
      this.ask('cells', { view: posted.id, from, to, columns }),
    )
    this.tiles.add(tiles)
    const closeTiles = (): void => {
      tiles.close()
      this.tiles.delete(tiles)
      close()
    }
    return { ...posted, lines: tiles, close: closeTiles }
  }

  ask<Name extends QuestionName>(
    question: Name,
    args: ArgsOf<Name>,
    options: CallOptions = {},
  ): Promise<AnswerOf<Name>> {
    // A name and its arguments belong together; what is answered is the question's answer.
    const asked = { question, args } as QuestionAsked
    return this.call('ask', asked, options) as Promise<AnswerOf<Name>>
  }

  stream(request: StreamRequest, options?: CallOptions): AsyncIterable<readonly RowRecord[]> {
    return streamRows(this, request, options)
  }

  commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed> {
    return this.call('commit', { changes, keyFields })
  }

  onChange(listener: (change: SourceChange) => void): () => void {
    return this.listeners.add(listener)
  }

  close(): void {
    this.closed = true
    this.coming?.end()
    this.listeners.clear()
    this.silence.end()
    for (const tiles of this.tiles) tiles.close()
    this.tiles.clear()
    this.port.onmessage = null
    this.port.terminate?.()
    this.port.close?.()
    for (const { reject } of this.waiting.values()) reject(new CancelledError())
    this.waiting.clear()
  }

  /**
   * Opening ends at once when it is cancelled, and when nothing is heard of a file for long: a decoder that is lost in
   * a damaged file hears no message. Whoever closes the source then ends the worker.
   */
  private watched<T>(opening: Promise<T>, { signal }: CallOptions): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      const cancel = (): void => reject(new CancelledError())
      signal?.addEventListener('abort', cancel)
      const watch = setInterval(() => {
        if (!needsFile(this.input) || performance.now() - this.heard < SILENCE_MS) return
        const reason = `nothing was heard of it for ${SILENCE_MS / 1000} seconds`
        reject(new SourceError({ code: 'damaged', format: 'given', reason }))
      }, 1000)
      const settle = (): void => {
        clearInterval(watch)
        signal?.removeEventListener('abort', cancel)
      }
      this.heard = performance.now()
      opening.then(resolve, reject).finally(settle)
    })
  }

  private call<Name extends CallName>(
    call: Name,
    args: Calls[Name]['args'],
    { signal, onProgress }: CallOptions = {},
    transfer: Transferable[] = [],
  ): Promise<Calls[Name]['answer']> {
    if (this.closed || signal?.aborted) return Promise.reject(new CancelledError())
    const id = ++this.lastId
    const cancel = (): void => this.cancel(id)
    signal?.addEventListener('abort', cancel)
    const answer = new Promise<Calls[Name]['answer']>((resolve, reject) => {
      // The worker answers a call with what `Calls` says; there is no way to show that to the checker.
      this.waiting.set(id, { resolve: resolve, reject, onProgress })
      // A file that is being read is watched for by itself.
      if (call !== 'open') this.silence.begin()
      this.port.postMessage({ id, call, args } as ToWorker, transfer)
    })
    return answer.finally(() => {
      signal?.removeEventListener('abort', cancel)
      if (this.waiting.size === 0) this.silence.end()
    })
  }

  private cancel(id: number): void {
    this.ended?.end(id)
    this.port.postMessage({ id, call: 'cancel' })
  }

  /** The worker is no more: whoever waits for it hears so, and who shows its rows. */
  private isGone(): void {
    const problem = { code: 'failed', reason: 'the worker does not answer any more' } as const
    const waiting = [...this.waiting.values()]
    this.waiting.clear()
    for (const { reject } of waiting) reject(new SourceError(problem))
    this.listeners.tell({ problem: null, lost: problem })
  }

  private take(message: FromWorker): void {
    this.heard = performance.now()
    this.silence.heard()
    if ('change' in message) {
      this.coming?.end()
      this.coming = null
      this.listeners.tell(message.change)
      return
    }
    if (this.coming?.id === message.id && 'progress' in message)
      return this.coming.onProgress?.(message.progress)
    const waiting = this.waiting.get(message.id)
    if (!waiting) return
    if ('progress' in message) return waiting.onProgress?.(message.progress)
    this.waiting.delete(message.id)
    if ('answer' in message) waiting.resolve(message.answer)
    else if ('problem' in message) waiting.reject(new SourceError(message.problem))
    else if ('mistake' in message) waiting.reject(new RangeError(message.mistake))
    else waiting.reject(new CancelledError())
  }
}

/** Lines of a view that lies in memory which this page sees. */
function linesRead(table: Table, view: FlowView, formats: Formats = {}): LineReader {
  const shows = table.fields.map(field => shower(field, formats[field.key]))
  const places = columnIndexesOf(table.fields)
  return new ViewLines(new ViewReader(table, shows, places, view, formats))
}
