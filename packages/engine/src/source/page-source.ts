import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../question/index.ts'
import type { RowRecord } from '../question/records.ts'
import type { EngineParts } from './engine.ts'
import { EngineHost, type EngineHostOptions } from './engine-host.ts'
import type { CallOptions, OpenOptions, RowSource, SourceChange, StreamRequest, View } from './row-source.ts'
import type { SourceDescription } from '../question/source-description.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { ChangeListeners } from './change-listeners.ts'
import { openRows } from './open-rows.ts'
import type { RowsInput } from './rows-input.ts'
import { streamRows } from './stream-rows.ts'
import { ViewLines } from './view-lines.ts'

/** Milliseconds that the engine takes of the page at a time; a frame has room for it beside scrolling. */
const PAGE_SLICE_MS = 6

/** The engine in the page itself: for small tables, and where no worker can be had. */
export class PageSource implements RowSource {
  private readonly input: RowsInput | (() => Promise<RowsInput>)
  private readonly remarks: readonly SourceRemark[]
  private readonly parts: EngineParts
  private readonly host: EngineHost
  private readonly listeners = new ChangeListeners()
  private closed = false

  /** `remarks`: for the description, for example why the engine runs here; `parts`: what the host adds. */
  constructor(
    input: RowsInput | (() => Promise<RowsInput>),
    remarks: readonly SourceRemark[] = [],
    parts: EngineParts = {},
    options: Partial<EngineHostOptions> = {},
  ) {
    this.input = input
    this.remarks = remarks
    this.parts = parts
    this.host = new EngineHost({ sliceMs: PAGE_SLICE_MS, ...options })
  }

  async open({ signal, onProgress, early }: OpenOptions = {}): Promise<SourceDescription> {
    const started = performance.now()
    const input = typeof this.input === 'function' ? await this.input() : this.input
    return await openRows(this.host, input, {
      early,
      onProgress,
      cancelled: () => this.closed || (signal?.aborted ?? false),
      given: () => ({
        ...this.parts,
        where: 'this page',
        remarks: this.remarks,
        ms: performance.now() - started,
      }),
      changed: change => this.listeners.tell(change),
    })
  }

  async view(request: ViewRequest, options: CallOptions = {}): Promise<View> {
    const { reader, ...view } = await this.host.view(request, cancelledBy(options))
    return { ...view, lines: new ViewLines(reader), close: () => this.host.closeView(view.id) }
  }

  ask<Name extends QuestionName>(
    question: Name,
    args: ArgsOf<Name>,
    options: CallOptions = {},
  ): Promise<AnswerOf<Name>> {
    return this.host.ask(question, args, cancelledBy(options))
  }

  stream(request: StreamRequest, options?: CallOptions): AsyncIterable<readonly RowRecord[]> {
    return streamRows(this, request, options)
  }

  commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed> {
    return this.host.commit(changes, keyFields)
  }

  onChange(listener: (change: SourceChange) => void): () => void {
    return this.listeners.add(listener)
  }

  close(): void {
    this.closed = true
    this.listeners.clear()
    this.host.close()
  }
}

const cancelledBy =
  ({ signal }: CallOptions) =>
  (): boolean =>
    signal?.aborted ?? false
