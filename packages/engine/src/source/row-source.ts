import type { SourceProblem } from '../read/source-problem.ts'
import { problemText } from '../words/source-problem-text.ts'
import type { ComputedProblem } from '../expression/expressions.ts'
import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { ChangeList, SaveAnswer } from '../pending/change-list.ts'
import type { Field, Value } from '../table/column.ts'
import type { RowId } from '../table/row-id.ts'
import type { FlowReport } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { HeadLine, Line } from '../flow/line.ts'
import type { Abilities } from '../question/abilities.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../question/index.ts'
import type { Count, SourceDescription } from '../question/source-description.ts'
import type { ViewId } from '../question/question.ts'
import type { RowRecord } from '../question/records.ts'

export interface Progress {
  /** What is being done, in a few words. */
  readonly doing: string
  readonly done: number
  /** Same unit as `done`; 0 where it is not known. */
  readonly of: number
  readonly unit: 'rows' | 'bytes'
}

export interface CallOptions {
  /** Aborted: the call rejects with `CancelledError`, and the work for it ends. */
  readonly signal?: AbortSignal
  readonly onProgress?: (progress: Progress) => void
}

export interface ViewOptions extends CallOptions {
  /** The first lines may be told before it is known how many there are: their counts are “at least” then, until `onChange`. */
  readonly early?: boolean
}

/**
 * Lines of one view, read synchronously. What is not here yet is `undefined`; `want` says what will
 * be read next, and `onArrive` tells when more is here.
 */
export interface LineReader {
  readonly lineCount: number
  line(index: number): Line | undefined
  /**
   * The groups that a line stands in, from the outermost; a head's own is the last. Left out by sources that group
   * nothing.
   */
  groupsAt?(index: number): readonly HeadLine[] | undefined
  /** The shown text of a row that `line` has answered with. */
  text(index: number, row: RowId, column: string): string | undefined
  value(index: number, row: RowId, column: string): Value | undefined
  want(from: number, to: number, columns: readonly string[]): void
  onArrive(listener: () => void): () => void
}

/** What came of a request. */
export interface View {
  /** Names it in questions about lines. */
  readonly id: ViewId
  /** The fields there are, the computed ones included. */
  readonly fields: readonly Field[]
  /** What is wrong with computed columns that are not there. */
  readonly problems: readonly ComputedProblem[]
  readonly counts: { readonly total: Count; readonly passing: Count; readonly lines: Count }
  readonly report: FlowReport
  /** What can be done with these rows; left out: what the source says of itself. */
  readonly can?: Abilities
  readonly lines: LineReader
  /** Gives back what the view holds; its lines are not read and nothing is asked of it after that. */
  close(): void
}

/** `problem`: why rows that were to come cannot be had; null: they are there. */
export interface SourceChange {
  readonly problem: string | null
  /** Why no row can be had after all, so that what was shown is not to be trusted; null: they were given up. */
  readonly lost?: SourceProblem | null
  /** The line to where the rows are fails, and why, or does so no more (null): the rows are those that they were. */
  readonly line?: SourceProblem | null
  /** The rows are those that they were, and are answered for in another way from now on. */
  readonly same?: true
}

export interface OpenOptions extends CallOptions {
  /**
   * Answer with the first rows where the others take long: counts are `at-least` and changes wait until all are there,
   * which `onChange` tells; fields may then have other types. Progress goes on being told, and aborting ends the reading.
   */
  readonly early?: boolean
}

export interface StreamRequest {
  readonly request: ViewRequest
  /** Rows a chunk; default 5,000. */
  readonly chunk?: number
}

/**
 * Where rows come from. All calls are asynchronous, and each can be cancelled by its signal. Answers do not depend on
 * what else is asked meanwhile.
 */
export interface RowSource {
  /** Makes the rows ready. Rejects with `SourceError` where they cannot be had. */
  open(options?: OpenOptions): Promise<SourceDescription>
  /** The rows as a request wants them. A few views are kept side by side; close those that are no longer shown. */
  view(request: ViewRequest, options?: ViewOptions): Promise<View>
  /** Answers a question of the list in `question/`; rejects where the source cannot, see `Abilities.questions`. */
  ask<Name extends QuestionName>(
    question: Name,
    args: ArgsOf<Name>,
    options?: CallOptions,
  ): Promise<AnswerOf<Name>>
  /** The rows of a request, in its order, a chunk at a time; the next is worked out when it is asked for. */
  stream(request: StreamRequest, options?: CallOptions): AsyncIterable<readonly RowRecord[]>
  /** Changes rows by their key, all at once. Takes effect in views that are asked for after it. */
  commit(changes: ChangeSet, keyFields: readonly string[]): Promise<Committed>
  /**
   * Saves what was changed where the rows are, row by row, and says what came of each; views that are asked for after it
   * have it. Rejects where nothing could be saved. Left out where rows are only here.
   */
  save?(changes: ChangeList, keyFields: readonly string[], options?: CallOptions): Promise<SaveAnswer>
  /** Looks anew at rows that others may have changed, and forgets what was read of them. Left out where nobody else can. */
  refresh?(options?: CallOptions): Promise<void>
  /** Calls the listener when rows have changed by themselves, or further ones cannot be had. */
  onChange(listener: (change: SourceChange) => void): () => void
  /** Ends workers and gives memory back. */
  close(): void
}

export class SourceError extends Error {
  override readonly name = 'SourceError'
  readonly problem: SourceProblem
  constructor(problem: SourceProblem) {
    super(problemText(problem))
    this.problem = problem
  }
}
