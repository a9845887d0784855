import type { Explanation } from '../flow/explain.ts'
import type { FacetsAsked } from '../flow/facets.ts'
import type { CellPlace } from '../flow/find-match.ts'
import type { Trace } from '../flow/trace.ts'
import type { Facets, FlowRequest, Profile } from '../flow/request.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { KeyValue } from '../key/key-value.ts'
import type { KeyCheck } from '../key/propose-keys.ts'
import { parseColumns } from '../expression/expressions.ts'
import { CancelledError, runSliced, type Work } from '../work/work.ts'
import { Turns } from '../work/turns.ts'
import { Engine, type EngineParts } from './engine.ts'
import type {
  Arranged,
  Binding,
  Bound,
  CallOptions,
  RowRecord,
  RowSource,
  SourceDescription,
} from './row-source.ts'
import { loadTable, type RowsInput } from './rows-input.ts'
import { ViewLines } from './view-lines.ts'
import type { Rows } from '../selection/row-set.ts'

/** Milliseconds that the engine takes of the page at a time; a frame has room for it beside scrolling. */
const PAGE_SLICE_MS = 6

/** The engine in the page itself: for small tables, and where no worker can be had. */
export class PageSource implements RowSource {
  private readonly input: RowsInput | (() => Promise<RowsInput>)
  private readonly notes: readonly string[]
  private readonly parts: EngineParts
  private engine: Engine | null = null
  private readonly turns = new Turns()
  private newest = 0
  /** Milliseconds that opening took. */
  private opened = 0

  /** `notes`: remarks for the description, for example why the engine runs here; `parts`: what the host adds. */
  constructor(
    input: RowsInput | (() => Promise<RowsInput>),
    notes: readonly string[] = [],
    parts: EngineParts = {},
  ) {
    this.input = input
    this.notes = notes
    this.parts = parts
  }

  async open({ signal, onProgress }: CallOptions = {}): Promise<SourceDescription> {
    const started = performance.now()
    const input = typeof this.input === 'function' ? await this.input() : this.input
    const loaded = await loadTable(input, { onProgress, cancelled: () => signal?.aborted ?? false })
    this.engine = new Engine({ ...loaded, notes: [...loaded.notes, ...this.notes] }, undefined, this.parts)
    this.opened = performance.now() - started
    return await this.describe()
  }

  describe(): Promise<SourceDescription> {
    return Promise.resolve(this.ready.describe('this page', this.opened))
  }

  async bind({ formats, computed, locale }: Binding): Promise<Bound> {
    const parsed = await parseColumns(computed)
    return await this.change(() => this.ready.bind(formats, parsed, locale))
  }

  async arrange(version: number, request: FlowRequest, { signal }: CallOptions = {}): Promise<Arranged> {
    this.newest = Math.max(this.newest, version)
    await this.ready.prepare(request)
    const { report } = await this.run(
      this.ready.arrange(request),
      () => version !== this.newest || !!signal?.aborted,
    )
    return { version, report, lines: new ViewLines(this.ready.view) }
  }

  async facets(
    request: FlowRequest,
    column: string,
    asked: FacetsAsked,
    { signal }: CallOptions = {},
  ): Promise<Facets> {
    await this.ready.prepare(request)
    return await this.run(this.ready.facets(request, column, asked), () => signal?.aborted ?? false)
  }

  async explain(request: FlowRequest, { signal }: CallOptions = {}): Promise<Explanation> {
    await this.ready.prepare(request)
    return await this.run(this.ready.explain(request), () => signal?.aborted ?? false)
  }

  async trace(request: FlowRequest, row: number, { signal }: CallOptions = {}): Promise<Trace> {
    await this.ready.prepare(request)
    return await this.run(this.ready.trace(request, row), () => signal?.aborted ?? false)
  }

  findMatch(
    search: string,
    columns: readonly string[],
    from: CellPlace,
    step: 1 | -1,
  ): Promise<CellPlace | null> {
    return this.run(this.ready.findMatch(search, columns, from, step), () => false)
  }

  profile(column: string, limit: number, { signal }: CallOptions = {}): Promise<Profile> {
    return this.run(this.ready.profile(column, limit), () => signal?.aborted ?? false)
  }

  findRows(
    keyFields: readonly string[],
    keys: readonly KeyValue[],
    { signal }: CallOptions = {},
  ): Promise<Int32Array> {
    return this.run(this.ready.findRows(keyFields, keys), () => signal?.aborted ?? false)
  }

  keysOf(keyFields: readonly string[], rows: Rows): Promise<KeyValue[]> {
    return Promise.resolve(this.ready.keysOf(keyFields, rows))
  }

  checkKey(keyFields: readonly string[], { signal }: CallOptions = {}): Promise<KeyCheck> {
    return this.run(this.ready.checkKey(keyFields), () => signal?.aborted ?? false)
  }

  proposeKeys({ signal }: CallOptions = {}): Promise<KeyCheck[]> {
    return this.run(this.ready.proposeKeys(), () => signal?.aborted ?? false)
  }

  commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed> {
    return this.change(() => this.ready.commit(changes, keyFields))
  }

  fold(): Promise<Uint32Array | null> {
    return this.change(() => this.ready.fold())
  }

  lineOfRow(row: number): Promise<number> {
    return Promise.resolve(this.ready.lineOfRow(row))
  }

  passingRows(): Promise<Rows> {
    return Promise.resolve(this.ready.passingRows())
  }

  rowsBetween(from: number, to: number): Promise<Rows> {
    return Promise.resolve(this.ready.rowsBetween(from, to))
  }

  records(rows: readonly number[]): Promise<RowRecord[]> {
    return Promise.resolve(this.ready.records(rows))
  }

  onChange(): () => void {
    return () => {}
  }

  close(): void {
    this.newest = Infinity
    this.engine = null
  }

  private get ready(): Engine {
    if (!this.engine) throw new CancelledError()
    return this.engine
  }

  private run<T>(work: Work<T>, cancelled: () => boolean): Promise<T> {
    const stop = (): boolean => cancelled() || this.engine === null
    return this.turns.read(() => runSliced(work, { sliceMs: PAGE_SLICE_MS, cancelled: stop }))
  }

  private change<T>(work: () => Work<T>): Promise<T> {
    return this.turns.change(() => runSliced(work(), { sliceMs: PAGE_SLICE_MS }))
  }
}
