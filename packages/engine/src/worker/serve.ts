import { privateMemory, sharedMemory } from '../table/allocate.ts'
import { SPLIT_FROM } from '../flow/split-predicates.ts'
import { lineCountOf } from '../flow/view.ts'
import { Engine, type EngineParts } from '../source/engine.ts'
import { SourceError, type SourceDescription } from '../source/row-source.ts'
import { loadTable, type RowsInput } from '../source/rows-input.ts'
import { parseColumns } from '../expression/expressions.ts'
import type { Table } from '../table/column.ts'
import { CancelledError, runSliced, type Work } from '../work/work.ts'
import { Turns } from '../work/turns.ts'
import { HelperThread } from './help.ts'
import {
  helpersHere,
  readyHelpers,
  startHelpers,
  type HelperLink,
  type HelperPlacement,
} from './helper-link.ts'
import type { CallName, Calls, FromWorker, ToWorker } from './messages.ts'

/** The end of a message channel that an engine serves: a worker's own scope, or a port. */
export interface ServedPort {
  postMessage(message: FromWorker): void
  onmessage: ((event: MessageEvent<ToWorker>) => void) | null
}

/** Between pauses; a message is then heard within 10 ms. */
const SLICE_MS = 8

/**
 * Answers a page's calls from an engine in this thread. Called once by a worker's entry. `parts`: what the host adds
 * to the engine; its own worker entry imports them and hands them over here. `helpers`: more
 * workers that serve likewise; over shared memory, large tables are searched and sorted by several at once.
 */
export function serveEngine(
  parts: EngineParts = {},
  port: ServedPort = globalThis as unknown as ServedPort,
  helpers: HelperPlacement = helpersHere(),
): void {
  const server = new Server(port, parts, helpers)
  port.onmessage = ({ data }) => {
    if (data.call === 'help') new HelperThread().listen(data.tasks)
    else void server.take(data)
  }
  port.postMessage({ id: 0, ready: true })
}

class Server {
  private readonly port: ServedPort
  private readonly parts: EngineParts
  private readonly placement: HelperPlacement
  private helpers: readonly HelperLink[] = []
  private engine: Engine | null = null
  private newest: Int32Array | null = null
  private newestHeard = 0
  /** Milliseconds that opening took. */
  private opened = 0
  private readonly cancelled = new Set<number>()
  private readonly turns = new Turns()
  private busy = 0
  private idleWork: Promise<void> | null = null

  constructor(port: ServedPort, parts: EngineParts, placement: HelperPlacement) {
    this.port = port
    this.parts = parts
    this.placement = placement
  }

  async take(message: Exclude<ToWorker, { call: 'help' }>): Promise<void> {
    if (message.call === 'cancel') {
      this.cancelled.add(message.id)
      return
    }
    // Newer versions are noted before the older one's next slice.
    if (message.call === 'arrange') this.newestHeard = Math.max(this.newestHeard, message.args.version)
    this.busy++
    try {
      this.port.postMessage({ id: message.id, answer: await this.answer(message) })
    } catch (error) {
      this.port.postMessage(refusal(message.id, error))
    } finally {
      this.cancelled.delete(message.id)
      this.busy--
      this.prepareWhenIdle()
    }
  }

  private async answer(
    message: Exclude<ToWorker, { call: 'cancel' | 'help' }>,
  ): Promise<Calls[CallName]['answer']> {
    const cancelled = (): boolean => this.cancelled.has(message.id)
    switch (message.call) {
      case 'open':
        return await this.open(message.args, message.id, cancelled)
      case 'describe':
        return this.describe()
      case 'bind': {
        const { formats, computed, locale } = message.args.binding
        const parsed = await parseColumns(computed)
        const bound = await this.change(() => this.ready.bind(formats, parsed, locale))
        return { bound, table: this.sharedTable }
      }
      case 'arrange':
        return await this.arrange(message.args, cancelled)
      case 'facets': {
        const { request, column, asked } = message.args
        await this.ready.prepare(request)
        return await this.run(this.ready.facets(request, column, asked), cancelled)
      }
      case 'explain': {
        const { request } = message.args
        await this.ready.prepare(request)
        return await this.run(this.ready.explain(request), cancelled)
      }
      case 'trace': {
        const { request, row } = message.args
        await this.ready.prepare(request)
        return await this.run(this.ready.trace(request, row), cancelled)
      }
      case 'findMatch': {
        const { search, columns, from, step } = message.args
        return await this.run(this.ready.findMatch(search, columns, from, step), cancelled)
      }
      case 'profile':
        return await this.run(this.ready.profile(message.args.column, message.args.limit), cancelled)
      case 'findRows':
        return await this.run(this.ready.findRows(message.args.keyFields, message.args.keys), cancelled)
      case 'keysOf':
        return this.ready.keysOf(message.args.keyFields, message.args.rows)
      case 'checkKey':
        return await this.run(this.ready.checkKey(message.args.keyFields), cancelled)
      case 'proposeKeys':
        return await this.run(this.ready.proposeKeys(), cancelled)
      case 'commit': {
        const { changes, keyFields } = message.args
        const committed = await this.change(() => this.ready.commit(changes, keyFields))
        return { committed, table: this.sharedTable }
      }
      case 'fold': {
        const moved = await this.change(() => this.ready.fold())
        return { moved, table: moved ? this.sharedTable : null }
      }
      case 'lineOfRow':
        return this.ready.lineOfRow(message.args.row)
      case 'passingRows':
        return this.ready.passingRows()
      case 'rowsBetween':
        return this.ready.rowsBetween(message.args.from, message.args.to)
      case 'records':
        return this.ready.records(message.args.rows)
      case 'cells': {
        const { version, from, to, columns } = message.args
        if (version !== this.arranged) throw new CancelledError()
        return this.ready.cells(from, to, columns)
      }
    }
  }

  private arranged = -1

  private async open(
    { input, newest }: Calls['open']['args'],
    id: number,
    cancelled: () => boolean,
  ): Promise<Calls['open']['answer']> {
    const from = performance.now()
    this.newest = newest
    const allocate = newest ? sharedMemory : privateMemory
    // They start while the rows are read.
    const started = newest && isLarge(input) ? startHelpers(this.placement) : []
    const loaded = await loadTable(input, {
      allocate,
      cancelled,
      onProgress: progress => this.port.postMessage({ id, progress }),
    })
    this.helpers = await readyHelpers(started)
    if (loaded.table.rows < SPLIT_FROM) {
      for (const helper of this.helpers) helper.close()
      this.helpers = []
    }
    this.engine = new Engine(loaded, allocate, { ...this.parts, helpers: this.helpers })
    this.opened = performance.now() - from
    return { description: this.describe(), table: this.sharedTable }
  }

  private async arrange(
    { version, request }: Calls['arrange']['args'],
    cancelled: () => boolean,
  ): Promise<Calls['arrange']['answer']> {
    const outdated = (): boolean =>
      (this.newest ? Atomics.load(this.newest, 0) : this.newestHeard) !== version || cancelled()
    if (outdated()) throw new CancelledError()
    await this.ready.prepare(request)
    const { view, report } = await this.run(this.ready.arrange(request), outdated)
    this.arranged = version
    return { report, lineCount: lineCountOf(view), view: this.newest ? view : null }
  }

  private describe(): SourceDescription {
    const workers = this.helpers.length === 0 ? 'a worker' : `${this.helpers.length + 1} workers`
    return this.ready.describe(this.newest ? `${workers}, shared memory` : workers, this.opened)
  }

  private run<T>(work: Work<T>, cancelled: () => boolean): Promise<T> {
    return this.turns.read(() => runSliced(work, { sliceMs: SLICE_MS, cancelled }))
  }

  private change<T>(work: () => Work<T>): Promise<T> {
    return this.turns.change(() => runSliced(work(), { sliceMs: SLICE_MS }))
  }

  private get sharedTable(): Table | null {
    return this.newest ? this.ready.table : null
  }

  private get ready(): Engine {
    if (!this.engine) throw new Error('The engine has no rows yet: call open first.')
    return this.engine
  }

  /** Search indexes are built in the pauses, column by column; a call ends that until the next pause. */
  private prepareWhenIdle(): void {
    if (this.busy > 0 || this.idleWork || this.arranged < 0) return
    const { flow } = this.ready
    const fields = this.ready.table.fields.filter(field => !field.internal)
    const texts = fields.filter(field => field.type === 'text')
    const others = fields.filter(field => field.type !== 'text')
    const work = flow.prepareSearch([...texts, ...others].map(field => field.key))
    this.idleWork = this.run(work, () => this.busy > 0)
      .catch(() => {})
      .finally(() => (this.idleWork = null))
  }
}

/** Files from this size on may hold enough rows for helpers. */
const LARGE_BYTES = 20_000_000

function isLarge(input: RowsInput): boolean {
  switch (input.kind) {
    case 'table':
      return input.table.rows >= SPLIT_FROM
    case 'recipe':
      return input.recipe.rows >= SPLIT_FROM
    case 'file':
      return input.blob.size >= LARGE_BYTES
    case 'grown':
      return true
  }
}

function refusal(id: number, error: unknown): FromWorker {
  if (error instanceof CancelledError) return { id, cancelled: true }
  if (error instanceof SourceError) return { id, problem: error.problem }
  return { id, problem: { code: 'failed', reason: error instanceof Error ? error.message : String(error) } }
}
