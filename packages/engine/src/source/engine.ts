import { keepNewest } from '../work/keep-newest.ts'
import { privateMemory, type Allocate } from '../table/allocate.ts'
import { bytesOf, columnBytes, type Field, type Table } from '../table/column.ts'
import { shownAt } from '../table/shown-text.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import { ComputedColumns } from '../edit/computed-columns.ts'
import { EditableTable } from '../edit/editable-table.ts'
import type { TableEdit } from '../edit/table-edit.ts'
import { PendingChanges } from '../pending/pending-changes.ts'
import { joinAll } from '../edit/table-edit.ts'
import type { OwnConditions } from '../condition/kinds/kind.ts'
import type { PatternCompiler } from '../condition/kinds/kind.ts'
import type { ComputedProblem, ParsedColumns } from '../expression/expressions.ts'
import { packagedTools, type ExpressionTools } from '../expression/load-packaged.ts'
import type { OwnSummaries } from '../summary/own-summary.ts'
import { Flow, type FlowTools } from '../flow/flow.ts'
import type { FlowReport, FlowRequest, Formats } from '../flow/request.ts'
import { ViewReader } from '../flow/view.ts'
import { questionOf, type AnswerOf, type ArgsOf, type QuestionName } from '../question/index.ts'
import type { QuestionContext, ViewId } from '../question/question.ts'
import { CancelledError, type Work } from '../work/work.ts'
import { ALL_ABILITIES } from '../question/abilities.ts'
import type { Loaded } from './rows-input.ts'
import type { Count, SourceDescription } from '../question/source-description.ts'
import type { View } from './row-source.ts'
import { errorOf } from '../work/checked.ts'
import { remarkText } from '../words/remark-text.ts'
import { reportSentences } from '../words/read-report-text.ts'

/** Views of all engines are told apart: one may take another's place. */
let lastView = 0

const SAMPLE_ROWS = 60
/** Views that are kept side by side at most; whoever shows one closes it. */
const MOST_VIEWS = 8

/** What a host adds to the engine: functions, which a definition only names. */
export interface EngineParts {
  readonly conditions?: OwnConditions
  readonly summaries?: OwnSummaries
}

/** What an engine is given besides its rows. */
export interface EngineTools extends EngineParts {
  /** Threads that see the same memory and do a part of the work. */
  readonly helpers?: FlowTools['helpers']
  /** Where the work is done, in plain words; default `this page`. */
  readonly where?: string
}

/** How columns are written, which are worked out, and in which language texts are ordered. */
export interface ParsedBinding {
  /** Equal for equal bindings. */
  readonly signature: string
  readonly formats: Formats
  readonly parsed: ParsedColumns
  readonly locale?: string
}

/** A view as the engine holds it. */
export interface EngineView extends Pick<View, 'id' | 'fields' | 'problems' | 'counts'> {
  readonly report: FlowReport
  readonly reader: ViewReader
}

/** A change set and the fields that name rows in it. */
export interface KeyedChanges {
  readonly changes: ChangeSet
  readonly keyFields: readonly string[]
}

/**
 * One table and its flow, wherever it runs: what the page's source and the worker both answer from. Whatever is not
 * said to change things may be worked on in turns.
 */
export class Engine implements QuestionContext {
  flow: Flow
  readonly edits: EditableTable
  readonly pending: PendingChanges
  private readonly computed: ComputedColumns
  private joined: Table
  private bound: Omit<ParsedBinding, 'parsed'> = { signature: '', formats: {} }
  private formulas: ParsedColumns['formulas'] = []
  private readonly views = new Map<ViewId, ViewReader>()
  private readonly allocate: Allocate
  private readonly loaded: Loaded
  private readonly packaged: Pick<ExpressionTools, 'pattern'>
  private readonly tools: FlowTools & { pattern: PatternCompiler | null }
  private readonly where: string
  /** Changes since what follows from the rows was brought up to date. */
  private behind: TableEdit[] = []
  /** Milliseconds that opening took. */
  opened = 0

  /** `packaged`: where the reader of patterns is got. */
  constructor(
    loaded: Loaded,
    allocate: Allocate = privateMemory,
    { conditions = {}, summaries = {}, helpers, where = 'this page' }: EngineTools = {},
    packaged: Pick<ExpressionTools, 'pattern'> = packagedTools,
  ) {
    this.loaded = loaded
    this.allocate = allocate
    this.packaged = packaged
    this.tools = { pattern: null, own: conditions, summaries, helpers }
    this.where = where
    this.edits = new EditableTable(loaded.table, allocate)
    this.pending = new PendingChanges(this.edits, allocate)
    this.computed = new ComputedColumns(allocate)
    this.joined = loaded.table
    this.flow = this.newFlow()
  }

  /** The rows, with the computed columns behind their own. */
  get table(): Table {
    return this.joined
  }

  describe(): SourceDescription {
    const { table } = this
    const { remarks, reading } = this.loaded
    return {
      fields: this.described,
      total: this.counted(this.edits.total),
      can: ALL_ABILITIES,
      where: this.where,
      bytes: bytesOf(table),
      columnBytes: Object.fromEntries(
        table.fields.flatMap((field, i) =>
          field.internal ? [] : [[field.key, columnBytes(table.columns[i])]],
        ),
      ),
      ms: this.opened,
      notes: [...remarks.map(remarkText), ...(reading ? reportSentences(reading) : [])],
      remarks,
      reading,
      samples: this.samples(),
    }
  }

  /** Loads what the conditions of a request need; what cannot be had, its report tells. */
  async prepare({ conditions }: Pick<FlowRequest, 'conditions'>): Promise<void> {
    const parts = Object.values(conditions).flatMap(({ parts }) => parts)
    if (this.tools.pattern || !parts.some(({ kind }) => kind === 'pattern')) return
    try {
      this.tools.pattern = (await this.packaged.pattern()).compilePattern
    } catch {
      // The condition tells of it; the rest of the grid works.
    }
  }

  isBound(signature: string): boolean {
    return this.bound.signature === signature
  }

  /** Sets formats, computed columns, and the language in which texts are ordered. Changes things. */
  *bind({ parsed, ...bound }: ParsedBinding): Work<void> {
    yield* this.catchUp()
    const { columns } = this.table
    yield* this.computed.make(parsed, this.pending.table, true)
    this.joined = this.computed.behind(this.pending.table)
    const same =
      this.joined.columns.length === columns.length && this.joined.columns.every((c, i) => c === columns[i])
    if (!same) this.flow = this.flow.withColumns(this.joined)
    this.flow.bind(bound.formats, bound.locale)
    this.formulas = parsed.formulas
    this.flow.parts.formulas = this.formulas
    this.bound = bound
  }

  *makeView(request: FlowRequest): Work<EngineView> {
    const { flow } = this
    const { view, report } = yield* flow.arrange(request, this.allocate)
    const reader = new ViewReader(flow.table, flow.shows, flow.columnIndexes, view, this.bound.formats)
    const id = ++lastView as ViewId
    this.views.set(id, reader)
    keepNewest(this.views, MOST_VIEWS)
    return {
      id,
      reader,
      report,
      fields: this.described,
      problems: this.problems,
      counts: {
        total: this.counted(report.total),
        passing: this.counted(report.passing),
        lines: this.counted(reader.lineCount),
      },
    }
  }

  view(id: ViewId): ViewReader {
    const reader = this.views.get(id)
    if (!reader) throw new CancelledError()
    return reader
  }

  closeView(id: ViewId): void {
    this.views.delete(id)
  }

  ask<Name extends QuestionName>(name: Name, args: ArgsOf<Name>): Work<AnswerOf<Name>> {
    return questionOf(name).answer(this, args)
  }

  /**
   * Applies change sets one after another. What follows from them is brought up to date when somebody reads it, once for
   * all that came since: of a stream, most is changed again before anybody looks. Changes things.
   */
  *commit(sets: readonly KeyedChanges[]): Work<(Committed | Error)[]> {
    const answers: (Committed | Error)[] = []
    for (const { changes, keyFields } of sets) {
      try {
        const { edit, committed } = yield* this.pending.commit(changes, keyFields)
        this.behind.push(edit)
        answers.push(committed)
      } catch (error) {
        answers.push(errorOf(error))
      }
    }
    if (this.behind.some(({ reshaped }) => reshaped)) yield* this.remake()
    return answers
  }

  /** Whether what follows from the rows is that of rows before they changed. */
  get isBehind(): boolean {
    return this.behind.length > 0
  }

  /** Brings up to date what follows from the rows. Changes things. */
  *catchUp(): Work<void> {
    if (this.behind.length === 0) return
    const all = joinAll(this.behind)
    this.behind = []
    const followed = yield* this.computed.follow(all)
    this.joined = followed.table
    yield* this.flow.update(followed)
  }

  /** Gives back the room of removed rows where that is worth it; nobody above sees any of it. Changes things. */
  *compact(): Work<void> {
    if (!(yield* this.edits.compact())) return
    yield* this.pending.layOver()
    yield* this.remake()
  }

  /** Rows stand elsewhere, or fields changed. */
  private *remake(): Work<void> {
    this.behind = []
    yield* this.computed.remake(this.pending.table)
    this.joined = this.computed.behind(this.pending.table)
    this.flow = this.newFlow()
  }

  /** More rows may be on their way. */
  private counted(rows: number): Count {
    return { kind: this.loaded.coming ? 'at-least' : 'exact', rows }
  }

  private get described(): readonly Field[] {
    return this.joined.fields.filter(field => !field.internal)
  }

  private get problems(): readonly ComputedProblem[] {
    return this.computed.problems
  }

  private newFlow(): Flow {
    const flow = new Flow(this.joined, this.edits.absent, this.tools)
    flow.bind(this.bound.formats, this.bound.locale)
    flow.parts.formulas = this.formulas
    return flow
  }

  private samples(): string[][] {
    const { rows, columns, fields } = this.table
    const step = Math.max(1, Math.floor(rows / SAMPLE_ROWS))
    return columns.flatMap((column, place) => {
      if (fields[place].internal) return []
      const texts: string[] = []
      for (let row = 0; row < rows && texts.length < SAMPLE_ROWS; row += step) {
        texts.push(shownAt(column, row, this.flow.shows[place]))
      }
      return [texts]
    })
  }
}
