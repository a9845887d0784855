import { privateMemory, type Allocate } from '../table/allocate.ts'
import { bytesOf, columnBytes, valueAt, type Field, type Table } from '../table/column.ts'
import { shownAt, tagsOf } from '../table/shown-text.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import { ComputedColumns } from '../edit/computed-columns.ts'
import { EditableTable } from '../edit/editable-table.ts'
import type { OwnConditions } from '../condition/kinds/own.ts'
import type { PatternCompiler } from '../condition/kinds/kind.ts'
import type { ParsedColumns } from '../expression/expressions.ts'
import { packagedTools, type ExpressionTools } from '../expression/load-packaged.ts'
import type { KeyValue } from '../key/key-value.ts'
import { checkKey, proposeKeys, type KeyCheck } from '../key/propose-keys.ts'
import { Flow, type FlowTools } from '../flow/flow.ts'
import { explain, type Explanation } from '../flow/explain.ts'
import { facets, type FacetsAsked } from '../flow/facets.ts'
import { findMatch, type CellPlace } from '../flow/find-match.ts'
import { profile } from '../flow/profile.ts'
import { trace, type Trace } from '../flow/trace.ts'
import type { Facets, FlowReport, FlowRequest, Formats, Profile } from '../flow/request.ts'
import { lineCountOf, ViewReader, type FlowView } from '../flow/view.ts'
import type { Rows } from '../selection/row-set.ts'
import type { Work } from '../work/work.ts'
import type { Loaded } from './rows-input.ts'
import type { Bound, RowRecord, SourceDescription } from './row-source.ts'
import { cellBlock } from './view-lines.ts'
import type { CellBlock } from './tile-reader.ts'

const SAMPLE_ROWS = 60

/** What a host adds to the engine: functions, which a definition only names. */
export interface EngineParts {
  readonly conditions?: OwnConditions
}

/** What an engine is given besides its rows. */
export interface EngineTools extends EngineParts {
  /** Threads that see the same memory and do a part of the work. */
  readonly helpers?: FlowTools['helpers']
}

/** One table and its flow, wherever it runs: what the page's source and the worker both answer from. */
export class Engine {
  flow: Flow
  private readonly edits: EditableTable
  private readonly computed: ComputedColumns
  private joined: Table
  private formats: Formats = {}
  private locale: string | undefined
  private reader: ViewReader
  private readonly allocate: Allocate
  private readonly loaded: Loaded
  private readonly packaged: Pick<ExpressionTools, 'pattern'>
  private readonly tools: FlowTools & { pattern: PatternCompiler | null }

  /** `packaged`: where the reader of patterns is got. */
  constructor(
    loaded: Loaded,
    allocate: Allocate = privateMemory,
    tools: EngineTools = {},
    packaged: Pick<ExpressionTools, 'pattern'> = packagedTools,
  ) {
    this.loaded = loaded
    this.allocate = allocate
    this.packaged = packaged
    this.tools = { pattern: null, own: tools.conditions ?? {}, helpers: tools.helpers }
    this.edits = new EditableTable(loaded.table, allocate)
    this.computed = new ComputedColumns(allocate)
    this.joined = loaded.table
    this.flow = this.newFlow()
    this.reader = this.readerOf({ rows: null, rowCount: loaded.table.rows, groups: null })
  }

  /** The rows, with the computed columns behind their own. */
  get table(): Table {
    return this.joined
  }

  private get described(): readonly Field[] {
    return this.joined.fields.filter(field => !field.internal)
  }

  describe(where: string, ms: number): SourceDescription {
    const { table } = this
    const { notes, reading } = this.loaded
    return {
      fields: this.described,
      total: { kind: 'exact', rows: this.edits.total },
      can: {
        order: true,
        conditions: true,
        search: true,
        group: true,
        facets: true,
        locate: true,
        commit: true,
      },
      where,
      bytes: bytesOf(table),
      columnBytes: Object.fromEntries(
        table.fields.flatMap((field, i) =>
          field.internal ? [] : [[field.key, columnBytes(table.columns[i])]],
        ),
      ),
      ms,
      notes,
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

  /**
   * Sets formats, computed columns, and the language in which texts are ordered. Must not run while a request is being
   * answered.
   */
  *bind(formats: Formats, parsed: ParsedColumns, locale?: string): Work<Bound> {
    this.formats = formats
    this.locale = locale
    const { columns } = this.table
    yield* this.computed.make(parsed, this.edits.table, true)
    this.joined = this.computed.behind(this.edits.table)
    const same =
      this.joined.columns.length === columns.length && this.joined.columns.every((c, i) => c === columns[i])
    if (!same) this.flow = this.flow.withColumns(this.joined)
    this.flow.bind(formats, locale)
    return { fields: this.described, problems: this.computed.problems }
  }

  *arrange(request: FlowRequest): Work<{ view: FlowView; report: FlowReport }> {
    const arranged = yield* this.flow.arrange(request, this.allocate)
    this.reader = this.readerOf(arranged.view)
    return arranged
  }

  /** Reads the newest view. */
  get view(): ViewReader {
    return this.reader
  }

  facets(request: FlowRequest, column: string, asked: FacetsAsked): Work<Facets> {
    return facets(this.flow, request, column, asked)
  }

  explain(request: FlowRequest): Work<Explanation> {
    return explain(this.flow, request)
  }

  trace(request: FlowRequest, row: number): Work<Trace> {
    return trace(this.flow, this.reader, request, row)
  }

  findMatch(
    search: string,
    columns: readonly string[],
    from: CellPlace,
    step: 1 | -1,
  ): Work<CellPlace | null> {
    return findMatch(this.reader, search, columns, from, step)
  }

  profile(column: string, limit: number): Work<Profile> {
    return profile(this.flow, column, limit)
  }

  *findRows(keyFields: readonly string[], keys: readonly KeyValue[]): Work<Int32Array> {
    return yield* this.edits.find(keyFields, keys)
  }

  keysOf(keyFields: readonly string[], rows: Rows): KeyValue[] {
    const columns = keyFields.map(key => this.table.columns[this.flow.places.get(key) ?? -1])
    const keyOf = (row: number): KeyValue => {
      if (columns.length === 0) return row
      const parts = columns.map(column => (column ? valueAt(column, row) : null))
      return parts.length === 1 ? parts[0] : parts
    }
    if (rows.kind === 'list') return Array.from(rows.rows, keyOf)
    return Array.from({ length: rows.to - rows.from }, (_, i) => keyOf(rows.from + i))
  }

  checkKey(keyFields: readonly string[]): Work<KeyCheck> {
    return checkKey(this.edits.table, keyFields, this.edits.absent)
  }

  proposeKeys(): Work<KeyCheck[]> {
    return proposeKeys(this.edits.table, this.edits.absent)
  }

  /** Must not run while a request is being answered. */
  *commit(changes: ChangeSet, keyFields: readonly string[]): Work<Committed> {
    const { edit, committed } = yield* this.edits.commit(changes, keyFields)
    if (edit.reshaped) yield* this.remake()
    else {
      const followed = yield* this.computed.follow(edit)
      this.joined = followed.table
      yield* this.flow.update(followed)
    }
    return committed
  }

  /** Must not run while a request is being answered. */
  *fold(): Work<Uint32Array | null> {
    const folded = yield* this.edits.fold()
    if (!folded) return null
    yield* this.remake()
    return folded.moved
  }

  /** Rows stand elsewhere, or fields changed. */
  private *remake(): Work<void> {
    yield* this.computed.remake(this.edits.table)
    this.joined = this.computed.behind(this.edits.table)
    this.flow = this.newFlow()
  }

  lineOfRow(row: number): number {
    return this.reader.lineOfRow(row)
  }

  rowsBetween(from: number, to: number): Rows {
    const end = Math.min(to, lineCountOf(this.reader.view))
    const { rows, groups } = this.reader.view
    if (!groups) return rows ? { kind: 'list', rows: rows.slice(from, end) } : { kind: 'run', from, to: end }
    return { kind: 'list', rows: this.reader.rowsBetween(from, end) }
  }

  passingRows(): Rows {
    const { rows, rowCount } = this.reader.view
    return rows ? { kind: 'list', rows: rows.slice() } : { kind: 'run', from: 0, to: rowCount }
  }

  records(rows: readonly number[]): RowRecord[] {
    const { fields, columns } = this.table
    return rows.map(row =>
      Object.fromEntries(
        fields.flatMap((field, i) => {
          if (field.internal) return []
          const value = valueAt(columns[i], row)
          return [[field.key, field.type === 'tags' && value !== null ? tagsOf(value as string) : value]]
        }),
      ),
    )
  }

  cells(from: number, to: number, columns: readonly string[]): CellBlock {
    return cellBlock(this.reader, from, to, columns)
  }

  private newFlow(): Flow {
    const flow = new Flow(this.joined, this.edits.absent, this.tools)
    flow.bind(this.formats, this.locale)
    return flow
  }

  private readerOf(view: FlowView): ViewReader {
    return new ViewReader(this.flow.table, this.flow.shows, this.flow.places, view)
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
