import { canShare } from '../table/allocate.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { KeyValue } from '../key/key-value.ts'
import type { KeyCheck } from '../key/propose-keys.ts'
import type { Table } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import type { Explanation } from '../flow/explain.ts'
import type { FacetsAsked } from '../flow/facets.ts'
import type { CellPlace } from '../flow/find-match.ts'
import type { Trace } from '../flow/trace.ts'
import type { Facets, FlowRequest, Formats, Profile } from '../flow/request.ts'
import { ViewReader } from '../flow/view.ts'
import type { Rows } from '../selection/row-set.ts'
import {
  SourceError,
  type Arranged,
  type Binding,
  type Bound,
  type CallOptions,
  type LineReader,
  type Progress,
  type RowRecord,
  type RowSource,
  type SourceDescription,
} from '../source/row-source.ts'
import { transfersOf, type RowsInput } from '../source/rows-input.ts'
import { TileReader } from '../source/tile-reader.ts'
import { ViewLines } from '../source/view-lines.ts'
import { CancelledError } from '../work/work.ts'
import type { CallName, Calls, FromWorker, ToWorker } from './messages.ts'

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
  private readonly newest: Int32Array | null
  private readonly waiting = new Map<number, Waiting>()
  private lastId = 0
  private table: Table | null = null
  private formats: Formats = {}
  private tiles: TileReader | null = null
  private closed = false
  /** When the worker last said anything. */
  private heard = 0

  /** `share`: whether to use shared memory; default: where the page can. */
  constructor(port: EnginePort, input: RowsInput, share = canShare()) {
    this.port = port
    this.input = input
    this.newest = share ? new Int32Array(new SharedArrayBuffer(4)) : null
    port.onmessage = event => this.take(event.data)
  }

  async open(options: CallOptions = {}): Promise<SourceDescription> {
    const args = { input: this.input, newest: this.newest }
    const opening = this.call('open', args, options, transfersOf(this.input))
    const { description, table } = await this.watched(opening, options)
    this.table = table
    return description
  }

  describe(): Promise<SourceDescription> {
    return this.call('describe', {})
  }

  async bind(binding: Binding): Promise<Bound> {
    this.formats = binding.formats
    const { bound, table } = await this.call('bind', { binding })
    this.table = table ?? this.table
    return bound
  }

  async arrange(version: number, request: FlowRequest, options: CallOptions = {}): Promise<Arranged> {
    if (this.newest) Atomics.store(this.newest, 0, version)
    const { report, lineCount, view } = await this.call('arrange', { version, request }, options)
    this.tiles?.close()
    this.tiles = null
    let lines: LineReader
    if (view && this.table) {
      const { fields } = this.table
      const shows = fields.map(field => shower(field, this.formats[field.key]))
      const places = new Map(fields.map((field, place) => [field.key, place]))
      lines = new ViewLines(new ViewReader(this.table, shows, places, view))
    } else {
      lines = this.tiles = new TileReader(lineCount, (from, to, columns) =>
        this.call('cells', { version, from, to, columns }),
      )
    }
    return { version, report, lines }
  }

  facets(
    request: FlowRequest,
    column: string,
    asked: FacetsAsked,
    options: CallOptions = {},
  ): Promise<Facets> {
    return this.call('facets', { request, column, asked }, options)
  }

  explain(request: FlowRequest, options: CallOptions = {}): Promise<Explanation> {
    return this.call('explain', { request }, options)
  }

  trace(request: FlowRequest, row: number, options: CallOptions = {}): Promise<Trace> {
    return this.call('trace', { request, row }, options)
  }

  findMatch(
    search: string,
    columns: readonly string[],
    from: CellPlace,
    step: 1 | -1,
  ): Promise<CellPlace | null> {
    return this.call('findMatch', { search, columns, from, step })
  }

  profile(column: string, limit: number, options: CallOptions = {}): Promise<Profile> {
    return this.call('profile', { column, limit }, options)
  }

  findRows(
    keyFields: readonly string[],
    keys: readonly KeyValue[],
    options: CallOptions = {},
  ): Promise<Int32Array> {
    return this.call('findRows', { keyFields, keys }, options)
  }

  keysOf(keyFields: readonly string[], rows: Rows): Promise<KeyValue[]> {
    return this.call('keysOf', { keyFields, rows })
  }

  checkKey(keyFields: readonly string[], options: CallOptions = {}): Promise<KeyCheck> {
    return this.call('checkKey', { keyFields }, options)
  }

  proposeKeys(options: CallOptions = {}): Promise<KeyCheck[]> {
    return this.call('proposeKeys', {}, options)
  }

  async commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed> {
    const { committed, table } = await this.call('commit', { changes, keyFields })
    this.table = table ?? this.table
    return committed
  }

  async fold(): Promise<Uint32Array | null> {
    const { moved, table } = await this.call('fold', {})
    this.table = table ?? this.table
    return moved
  }

  lineOfRow(row: number): Promise<number> {
    return this.call('lineOfRow', { row })
  }

  passingRows(): Promise<Rows> {
    return this.call('passingRows', {})
  }

  rowsBetween(from: number, to: number): Promise<Rows> {
    return this.call('rowsBetween', { from, to })
  }

  records(rows: readonly number[]): Promise<RowRecord[]> {
    return this.call('records', { rows })
  }

  onChange(): () => void {
    return () => {}
  }

  close(): void {
    this.closed = true
    this.tiles?.close()
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
    const cancel = (): void => this.port.postMessage({ id, call: 'cancel' })
    signal?.addEventListener('abort', cancel)
    const answer = new Promise<Calls[Name]['answer']>((resolve, reject) => {
      // The worker answers a call with what `Calls` says; there is no way to show that to the checker.
      this.waiting.set(id, { resolve: resolve as (answer: unknown) => void, reject, onProgress })
      this.port.postMessage({ id, call, args } as ToWorker, transfer)
    })
    return answer.finally(() => signal?.removeEventListener('abort', cancel))
  }

  private take(message: FromWorker): void {
    this.heard = performance.now()
    const waiting = this.waiting.get(message.id)
    if (!waiting) return
    if ('progress' in message) return waiting.onProgress?.(message.progress)
    this.waiting.delete(message.id)
    if ('answer' in message) waiting.resolve(message.answer)
    else if ('problem' in message) waiting.reject(new SourceError(message.problem))
    else waiting.reject(new CancelledError())
  }
}
