import type { ReadProblem, ReadReport } from '../read/read-report.ts'
import { readProblemText } from '../read/report-text.ts'
import type { ComputedColumn, ComputedProblem } from '../expression/expressions.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { KeyValue } from '../key/key-value.ts'
import type { KeyCheck } from '../key/propose-keys.ts'
import type { Field, Value } from '../table/column.ts'
import type { Explanation } from '../flow/explain.ts'
import type { FacetsAsked } from '../flow/facets.ts'
import type { CellPlace } from '../flow/find-match.ts'
import type { Trace } from '../flow/trace.ts'
import type { Facets, FlowReport, FlowRequest, Formats, Profile } from '../flow/request.ts'
import type { Line } from '../flow/view.ts'
import type { Rows } from '../selection/row-set.ts'

/** How many rows there are: counted, known to be at least so many, or not known. */
export interface Total {
  readonly kind: 'exact' | 'at-least' | 'unknown'
  readonly rows: number
}

/** What a source can do by itself; what it cannot is shown as not available. */
export interface Abilities {
  readonly order: boolean
  readonly conditions: boolean
  readonly search: boolean
  readonly group: boolean
  readonly facets: boolean
  readonly locate: boolean
  /** Whether rows can be changed by their key. */
  readonly commit: boolean
}

export interface SourceDescription {
  readonly fields: readonly Field[]
  readonly total: Total
  readonly can: Abilities
  /** Where the work is done, in plain words: `this page`, `a worker`, `a worker, shared memory`. */
  readonly where: string
  /** Bytes that the rows occupy; 0 where cells are made on demand. */
  readonly bytes: number
  /** By field: the bytes that its column occupies. */
  readonly columnBytes: Readonly<Record<string, number>>
  /** Milliseconds from the call of `open` until the rows were there. */
  readonly ms: number
  /** Remarks for the builder, in sentences: what was read otherwise than expected, why a fall-back was taken. */
  readonly notes: readonly string[]
  /** How rows were read; null where they were not. */
  readonly reading: ReadReport | null
  /** Some shown texts of each field, for column widths. */
  readonly samples: readonly (readonly string[])[]
}

export interface Progress {
  /** What is being done, in a few words. */
  readonly doing: string
  readonly done: number
  /** Same unit as `done`; 0 where it is not known. */
  readonly of: number
  readonly unit: 'rows' | 'bytes'
}

/** How columns write their values, and which of them are worked out from others. */
export interface Binding {
  readonly formats: Formats
  readonly computed: readonly ComputedColumn[]
  /** BCP 47 tag of the language in which texts are ordered; default: that of where the engine runs. */
  readonly locale?: string
}

/** What came of a binding: the fields there are now, and what is wrong with computed ones that are not there. */
export interface Bound {
  readonly fields: readonly Field[]
  readonly problems: readonly ComputedProblem[]
}

export interface CallOptions {
  readonly signal?: AbortSignal
  readonly onProgress?: (progress: Progress) => void
}

/**
 * Lines of one arrangement version, read synchronously. What is not here yet is `undefined`; `want` says what will
 * be read next, and `onArrive` tells when more is here.
 */
export interface LineReader {
  readonly lineCount: number
  line(index: number): Line | undefined
  /** The shown text of a row that `line` has answered with. */
  text(index: number, row: number, column: string): string | undefined
  value(index: number, row: number, column: string): Value | undefined
  want(from: number, to: number, columns: readonly string[]): void
  onArrive(listener: () => void): () => void
}

export interface Arranged {
  readonly version: number
  readonly report: FlowReport
  readonly lines: LineReader
}

/** `problem`: why rows that were to come cannot be had; null: they are there. */
export interface SourceChange {
  readonly problem: string | null
}

/** A row as a plain object of its fields; tags as a list of texts. */
export type RowRecord = Readonly<Record<string, Value | readonly string[]>>

/**
 * Where rows come from. All calls are asynchronous and can be cancelled by their signal; a newer `arrange` makes
 * the older one reject with `CancelledError`.
 */
export interface RowSource {
  /** Makes the rows ready. Rejects with `SourceError` where they cannot be had. */
  open(options?: CallOptions): Promise<SourceDescription>
  /** How things stand now; rows may have come or changed since the rows were opened. */
  describe(): Promise<SourceDescription>
  /** Sets how columns write their values and which are computed; holds for the next `arrange`. */
  bind(binding: Binding): Promise<Bound>
  arrange(version: number, request: FlowRequest, options?: CallOptions): Promise<Arranged>
  /** Values with counts under everything else that the request asks. */
  facets(request: FlowRequest, column: string, asked: FacetsAsked, options?: CallOptions): Promise<Facets>
  /** What holds rows back, one by one: for when nothing passes. */
  explain(request: FlowRequest, options?: CallOptions): Promise<Explanation>
  /** What each stage says of a row; the line is that of the newest arrangement. */
  trace(request: FlowRequest, row: number, options?: CallOptions): Promise<Trace>
  /** The next cell of the newest arrangement that a search marks, or the one before; null where none is. */
  findMatch(
    search: string,
    columns: readonly string[],
    from: CellPlace,
    step: 1 | -1,
  ): Promise<CellPlace | null>
  /** What a column holds over all rows, whatever is arranged. `limit`: most values listed. */
  profile(column: string, limit: number, options?: CallOptions): Promise<Profile>
  /** The row numbers of keys, −1 where there is none. No fields: a key is the row's own number. */
  findRows(
    keyFields: readonly string[],
    keys: readonly KeyValue[],
    options?: CallOptions,
  ): Promise<Int32Array>
  /** The keys of rows, in the order asked. */
  keysOf(keyFields: readonly string[], rows: Rows): Promise<KeyValue[]>
  /** How well some fields name the rows. */
  checkKey(keyFields: readonly string[], options?: CallOptions): Promise<KeyCheck>
  /** Fields that name every row, the likeliest first. */
  proposeKeys(options?: CallOptions): Promise<KeyCheck[]>
  /** Changes rows by their key, all at once. Takes effect in what is arranged after it. */
  commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed>
  /**
   * Gives back the room of removed rows where that is worth it: then row numbers change, and for every old number the
   * new one is answered (2^32 − 1: gone); else null. Meant for idle times.
   */
  fold(): Promise<Uint32Array | null>
  /** The line of a row in the newest arrangement, or −1 where it is held back. */
  lineOfRow(row: number): Promise<number>
  /** All rows that pass in the newest arrangement, also those of closed groups. */
  passingRows(): Promise<Rows>
  /** The rows that stand on a range of lines of the newest arrangement. */
  rowsBetween(from: number, to: number): Promise<Rows>
  /** Rows as plain objects, in the order asked. */
  records(rows: readonly number[]): Promise<RowRecord[]>
  /** Calls the listener when rows have changed by themselves, or further ones cannot be had. */
  onChange(listener: (change: SourceChange) => void): () => void
  /** Ends workers and gives memory back. */
  close(): void
}

/** Why rows could not be had: a code, and the facts that a message needs. */
export type SourceProblem =
  | ReadProblem
  | { readonly code: 'recipe-not-valid'; readonly path: string; readonly reason: string }
  | { readonly code: 'failed'; readonly reason: string }

export class SourceError extends Error {
  override readonly name = 'SourceError'
  readonly problem: SourceProblem
  constructor(problem: SourceProblem) {
    super(problemText(problem))
    this.problem = problem
  }
}

/** The plain sentence for a problem: what, where, and what to do. */
export function problemText(problem: SourceProblem): string {
  switch (problem.code) {
    case 'recipe-not-valid':
      return `The recipe for made-up rows is not valid at ${problem.path || 'its start'}: ${problem.reason}`
    case 'failed':
      return `The rows could not be read: ${problem.reason}`
    default:
      return readProblemText(problem)
  }
}
