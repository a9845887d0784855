import type { Facets, FlowRequest, Formats } from '../flow/request.ts'
import type { Value } from '../table/column.ts'
import { CancelledError, runSliced, type Work } from '../work/work.ts'
import { Engine } from './engine.ts'
import type { Arranged, CallOptions, RowRecord, RowSource, SourceDescription } from './row-source.ts'
import { loadTable, type RowsInput } from './rows-input.ts'
import { ViewLines } from './view-lines.ts'
import type { Rows } from '../selection/row-set.ts'

/** Milliseconds that the engine takes of the page at a time; a frame has room for it beside scrolling. */
const PAGE_SLICE_MS = 6

/** The engine in the page itself: for small tables, and where no worker can be had. */
export class PageSource implements RowSource {
  private readonly input: RowsInput | (() => Promise<RowsInput>)
  private readonly notes: readonly string[]
  private engine: Engine | null = null
  private newest = 0

  /** `notes`: remarks for the description, for example why the engine runs here. */
  constructor(input: RowsInput | (() => Promise<RowsInput>), notes: readonly string[] = []) {
    this.input = input
    this.notes = notes
  }

  async open({ signal, onProgress }: CallOptions = {}): Promise<SourceDescription> {
    const started = performance.now()
    const input = typeof this.input === 'function' ? await this.input() : this.input
    const loaded = await loadTable(input, { onProgress, cancelled: () => signal?.aborted ?? false })
    this.engine = new Engine({ ...loaded, notes: [...loaded.notes, ...this.notes] })
    return this.engine.describe('this page', performance.now() - started)
  }

  bind(formats: Formats): Promise<void> {
    this.ready.bind(formats)
    return Promise.resolve()
  }

  async arrange(version: number, request: FlowRequest, { signal }: CallOptions = {}): Promise<Arranged> {
    this.newest = Math.max(this.newest, version)
    const { report } = await this.run(
      this.ready.arrange(request),
      () => version !== this.newest || !!signal?.aborted,
    )
    return { version, report, lines: new ViewLines(this.ready.view) }
  }

  facets(request: FlowRequest, column: string, limit: number, { signal }: CallOptions = {}): Promise<Facets> {
    return this.run(this.ready.facets(request, column, limit), () => signal?.aborted ?? false)
  }

  findRow(field: string | null, key: Value): Promise<number> {
    return Promise.resolve(this.ready.findRow(field, key))
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
    return runSliced(work, { sliceMs: PAGE_SLICE_MS, cancelled: () => cancelled() || this.engine === null })
  }
}
