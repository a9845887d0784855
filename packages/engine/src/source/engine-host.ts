import { privateMemory, type Allocate } from '../table/allocate.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import { parseColumns } from '../expression/expressions.ts'
import type { FlowTools } from '../flow/flow.ts'
import { questionOf, type AnswerOf, type ArgsOf, type QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import { CancelledError, runSliced, type Work } from '../work/work.ts'
import { Turns } from '../work/turns.ts'
import { Engine, type EngineParts, type EngineView, type KeyedChanges, type ParsedBinding } from './engine.ts'
import { PLAIN_BINDING, type Binding, type ViewRequest } from '../flow/view-request.ts'
import type { Loaded } from './rows-input.ts'
import type { SourceRemark } from '../question/source-remark.ts'

export interface EngineHostOptions {
  /** Milliseconds that the engine works at a time, before others get their turn. */
  readonly sliceMs: number
  /** Milliseconds after a change until the room of removed rows is given back. */
  readonly compactAfterMs?: number
}

/** What an engine is made with besides its rows. */
export interface EngineGiven extends EngineParts {
  readonly allocate?: Allocate
  readonly helpers?: FlowTools['helpers']
  readonly where: string
  /** What is remarked besides. */
  readonly remarks?: readonly SourceRemark[]
  /** Milliseconds that reading the rows took. */
  readonly ms: number
}

interface Waiting extends KeyedChanges {
  resolve(committed: Committed): void
  reject(error: unknown): void
}

const COMPACT_AFTER_MS = 3000

/**
 * Runs an engine's work in slices: readings side by side, changes alone. What a request binds is bound before it is
 * read; changes that wait for their turn together are made together.
 */
export class EngineHost {
  private engine: Engine | null = null
  private readonly turns = new Turns()
  private readonly sliceMs: number
  private readonly compactAfterMs: number
  private readonly waiting: Waiting[] = []
  private compactTimer: ReturnType<typeof setTimeout> | undefined
  private closed = false
  /** Resolves when all rows are there. */
  private whole: Promise<void> = Promise.resolve()
  private settleWhole: { resolve(): void; reject(error: Error): void } | null = null

  constructor({ sliceMs, compactAfterMs = COMPACT_AFTER_MS }: EngineHostOptions) {
    this.sliceMs = sliceMs
    this.compactAfterMs = compactAfterMs
  }

  /** Takes the rows. */
  take(loaded: Loaded, { allocate = privateMemory, ms, remarks = [], ...tools }: EngineGiven): Engine {
    this.engine = new Engine({ ...loaded, remarks: [...loaded.remarks, ...remarks] }, allocate, tools)
    this.engine.opened = ms
    if (loaded.coming) this.whole = new Promise((resolve, reject) => (this.settleWhole = { resolve, reject }))
    // Whoever waits hears of it; where nobody does, it is told otherwise.
    this.whole.catch(() => {})
    return this.engine
  }

  /** Takes all rows in the place of the first ones, when nothing is being read from these. */
  async replace(loaded: Loaded, given: EngineGiven): Promise<void> {
    await this.turns.change(() => Promise.resolve(this.take(loaded, given)))
    this.settleWhole?.resolve()
  }

  /** The other rows do not come. */
  giveUp(): void {
    this.settleWhole?.reject(new CancelledError())
  }

  get ready(): Engine {
    if (this.closed) throw new CancelledError()
    if (!this.engine) throw new Error('There are no rows yet: call open first.')
    return this.engine
  }

  async view(request: ViewRequest, cancelled: () => boolean): Promise<EngineView> {
    await this.ready.prepare(request)
    return await this.readBound(request.binding, () => this.ready.makeView(request), cancelled)
  }

  closeView(id: ViewId): void {
    this.engine?.closeView(id)
  }

  async ask<Name extends QuestionName>(
    name: Name,
    args: ArgsOf<Name>,
    cancelled: () => boolean,
  ): Promise<AnswerOf<Name>> {
    const { request, binding } = args as { request?: ViewRequest; binding?: Binding }
    if (request) await this.ready.prepare(request)
    await questionOf(name).load?.(args)
    const work = (): Work<AnswerOf<Name>> => this.ready.ask(name, args)
    const wanted = request ? (request.binding ?? PLAIN_BINDING) : binding
    if (wanted) return await this.readBound(wanted, work, cancelled)
    if (questionOf(name).apart) return await this.turns.read(() => this.runRead(work, cancelled))
    return await this.read(work, cancelled)
  }

  /** Builds the search indexes of columns ahead of the first search. */
  prepareSearch(columns: readonly string[], cancelled: () => boolean): Promise<void> {
    return this.read(() => this.ready.flow.prepareSearch(columns), cancelled)
  }

  async commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed> {
    // What is changed in the first rows would be lost with them.
    await this.whole
    return await new Promise((resolve, reject) => {
      this.waiting.push({ changes, keyFields, resolve, reject })
      if (this.waiting.length === 1) void this.turns.change(() => this.commitWaiting())
    })
  }

  close(): void {
    this.closed = true
    this.engine = null
    clearTimeout(this.compactTimer)
  }

  private async commitWaiting(): Promise<void> {
    const sets = this.waiting.splice(0)
    try {
      const answers = await this.runChange(() => this.ready.commit(sets))
      answers.forEach((answer, i) =>
        answer instanceof Error ? sets[i].reject(answer) : sets[i].resolve(answer),
      )
    } catch (error) {
      for (const set of sets) set.reject(error)
    }
    this.compactLater()
  }

  private compactLater(): void {
    clearTimeout(this.compactTimer)
    if (this.closed) return
    const compact = (): Promise<void> => this.turns.change(() => this.runChange(() => this.ready.compact()))
    this.compactTimer = setTimeout(() => void compact().catch(() => {}), this.compactAfterMs)
  }

  /** Reads rows that are bound so; binds them first where they are not. */
  private async readBound<T>(
    binding: Binding = PLAIN_BINDING,
    work: () => Work<T>,
    cancelled: () => boolean,
  ): Promise<T> {
    const signature = JSON.stringify(binding)
    const isBound = (): boolean => this.ready.isBound(signature) && !this.ready.isBehind
    const bind = async (): Promise<void> => {
      if (this.ready.isBound(signature)) {
        await this.runChange(() => this.ready.catchUp())
        return
      }
      const { formats, computed, locale } = binding
      const parsed: ParsedBinding = { signature, formats, locale, parsed: await parseColumns(computed) }
      await this.runChange(() => this.ready.bind(parsed))
    }
    return await this.turns.readAfter(isBound, bind, () => this.runRead(work, cancelled))
  }

  private read<T>(work: () => Work<T>, cancelled: () => boolean): Promise<T> {
    return this.turns.readAfter(
      () => !this.ready.isBehind,
      () => this.runChange(() => this.ready.catchUp()),
      () => this.runRead(work, cancelled),
    )
  }

  private async runRead<T>(work: () => Work<T>, cancelled: () => boolean): Promise<T> {
    const stop = (): boolean => this.closed || cancelled()
    if (stop()) throw new CancelledError()
    return await runSliced(work(), { sliceMs: this.sliceMs, cancelled: stop })
  }

  private runChange<T>(work: () => Work<T>): Promise<T> {
    return runSliced(work(), { sliceMs: this.sliceMs })
  }
}
