import { privateMemory, sharedMemory } from '../table/allocate.ts'
import type { Table } from '../table/column.ts'
import { columnsAhead } from '../search/columns-ahead.ts'
import { SPLIT_FROM } from '../flow/split-predicates.ts'
import type { EngineParts } from '../source/engine.ts'
import { EngineHost, type EngineGiven, type EngineHostOptions } from '../source/engine-host.ts'
import { SourceError } from '../source/row-source.ts'
import { openRows } from '../source/open-rows.ts'
import type { RowsInput } from '../source/rows-input.ts'
import { CancelledError } from '../work/work.ts'
import { EndedCalls } from './ended-calls.ts'
import { HelperThread } from './helper-thread.ts'
import {
  helpersHere,
  readyHelpers,
  startHelpers,
  type HelperLink,
  type HelperPlacement,
} from './helper-link.ts'
import type { CallName, Calls, FromWorker, PostedView, ToWorker } from './messages.ts'

/** The end of a message channel that an engine serves: a worker's own scope, or a port. */
export interface ServedPort {
  postMessage(message: FromWorker): void
  onmessage: ((event: MessageEvent<ToWorker>) => void) | null
  close?(): void
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
  port: ServedPort = globalThis,
  helpers: HelperPlacement = helpersHere(),
  options: Partial<EngineHostOptions> = {},
): void {
  const server = new Server(port, parts, helpers, options)
  port.onmessage = ({ data }) => {
    if (data.call === 'helper') new HelperThread().listen(data.tasks)
    else if (data.call === 'ping') port.postMessage({ id: 0, here: true })
    else if (data.call === 'join') serveEngine(parts, data.port, helpers, options)
    else if (data.call === 'leave') server.leave()
    else void server.take(data)
  }
  port.postMessage({ id: 0, ready: true })
}

/** The first rows are painted by then. */
const HELP_AFTER_MS = 200
/** Rows have come to rest when none has changed for so long. */
const QUIET_MS = 1500

/** Answers messages from an engine; when nothing else is to be done, builds what searches will need. */
class Server {
  private readonly port: ServedPort
  private readonly parts: EngineParts
  private readonly placement: HelperPlacement
  private readonly host: EngineHost
  private helpers: readonly HelperLink[] = []
  /** Null: the page does not see this thread's memory. */
  private ended: EndedCalls | null = null
  private readonly cancelled = new Set<number>()
  private busy = 0
  private isLeft = false
  /** The columns that the last view searches; null: nobody looked at rows yet. */
  private searched: readonly string[] | null = null
  /** The table that the page knows. */
  private posted: Table | null = null
  private idleWork: Promise<void> | null = null
  /** When rows changed last, and what waits for them to rest. */
  private changedAt = -Infinity
  private quiet: ReturnType<typeof setTimeout> | undefined

  constructor(
    port: ServedPort,
    parts: EngineParts,
    placement: HelperPlacement,
    options: Partial<EngineHostOptions>,
  ) {
    this.port = port
    this.parts = parts
    this.placement = placement
    this.host = new EngineHost({ sliceMs: SLICE_MS, ...options })
  }

  async take(message: Exclude<ToWorker, { call: 'helper' | 'ping' | 'join' | 'leave' }>): Promise<void> {
    if (message.call === 'cancel') {
      this.cancelled.add(message.id)
      return
    }
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

  /** Nobody listens any more: the rows are given back, and what is under way ends. */
  leave(): void {
    this.isLeft = true
    this.port.onmessage = null
    this.port.close?.()
    clearTimeout(this.quiet)
    this.closeHelpers()
    this.host.close()
  }

  private async answer(
    message: Exclude<ToWorker, { call: 'cancel' | 'helper' | 'ping' | 'join' | 'leave' }>,
  ): Promise<Calls[CallName]['answer']> {
    const { id } = message
    const cancelled = (): boolean => this.isLeft || this.cancelled.has(id) || (this.ended?.has(id) ?? false)
    switch (message.call) {
      case 'open':
        return await this.open(message.args, id, cancelled)
      case 'view':
        return await this.view(message.args, cancelled)
      case 'ask':
        return await this.host.ask(message.args.question, message.args.args, cancelled)
      case 'commit':
        this.changedAt = performance.now()
        return await this.host.commit(message.args.changes, message.args.keyFields)
      case 'closeView':
        this.host.closeView(message.args.view)
        return null
    }
  }

  private async open(
    { input, ended, early }: Calls['open']['args'],
    id: number,
    cancelled: () => boolean,
  ): Promise<Calls['open']['answer']> {
    const from = performance.now()
    this.ended = ended && new EndedCalls(ended)
    const allocate = ended ? sharedMemory : privateMemory
    let started: readonly HelperLink[] = []
    let starting: Promise<HelperLink[]> | null = null
    let isRefused = false
    const helpers = (): Promise<HelperLink[]> => {
      if (!starting && !isRefused && ended && isLarge(input)) started = startHelpers(this.placement)
      return (starting ??= readyHelpers(started))
    }
    // They start while the rows are read; not before the first of them are there, where somebody waits for those.
    if (!early) void helpers()
    const given = async (rows: number, whole: boolean): Promise<EngineGiven> => {
      if (!whole) setTimeout(() => void helpers(), HELP_AFTER_MS)
      this.helpers = whole ? await helpers() : []
      if (whole && rows < SPLIT_FROM) this.closeHelpers()
      const workers = this.helpers.length === 0 ? 'a worker' : `${this.helpers.length + 1} workers`
      return {
        ...this.parts,
        allocate,
        helpers: this.helpers,
        where: ended ? `${workers}, shared memory` : workers,
        ms: performance.now() - from,
      }
    }
    return await openRows(this.host, input, {
      early,
      allocate,
      cancelled,
      onProgress: progress => this.port.postMessage({ id, progress }),
      helpers,
      given,
      changed: change => {
        this.port.postMessage({ id: 0, change })
        this.prepareWhenIdle()
      },
    }).catch((error: unknown) => {
      isRefused = true
      for (const helper of started) helper.close()
      throw error
    })
  }

  private closeHelpers(): void {
    for (const helper of this.helpers) helper.close()
    this.helpers = []
  }

  private async view({ request }: Calls['view']['args'], cancelled: () => boolean): Promise<PostedView> {
    const { reader, ...view } = await this.host.view(request, cancelled)
    this.searched = request.searchColumns
    const table = reader.table === this.posted ? null : reader.table
    if (this.ended) this.posted = reader.table
    const read = this.ended ? { view: reader.view, table } : null
    return { ...view, lineCount: reader.lineCount, read }
  }

  /**
   * Search indexes are built in the pauses, column by column; a call ends that until the next pause. While rows change,
   * they would be out of date before anybody searched.
   */
  private prepareWhenIdle(): void {
    if (this.isLeft || this.busy > 0 || this.idleWork || !this.searched) return
    const restsFor = this.changedAt + QUIET_MS - performance.now()
    if (restsFor > 0) {
      clearTimeout(this.quiet)
      this.quiet = setTimeout(() => this.prepareWhenIdle(), restsFor)
      return
    }
    const columns = columnsAhead(this.host.ready.table, this.searched)
    this.idleWork = this.host
      .prepareSearch(columns, () => this.isLeft || this.busy > 0)
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
  if (error instanceof RangeError) return { id, mistake: error.message }
  return { id, problem: { code: 'failed', reason: error instanceof Error ? error.message : String(error) } }
}
