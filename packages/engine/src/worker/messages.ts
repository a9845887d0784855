import type { ChangeSet, Committed } from '../edit/change-set.ts'
import type { Table } from '../table/column.ts'
import type { HelperTask } from '../flow/flow.ts'
import type { FlowView } from '../flow/view.ts'
import type { ArgsOf, QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import type { MakeQuestions } from '../source/made-up/make-by-threads.ts'
import type { ShareQuestions, ShareTask } from '../read/csv/share-task.ts'
import type { SourceProblem } from '../read/source-problem.ts'
import type { Progress, SourceChange, View } from '../source/row-source.ts'
import type { SourceDescription } from '../question/source-description.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { RowsInput } from '../source/rows-input.ts'

/** A question with its arguments. */
export type QuestionAsked = {
  [Name in QuestionName]: { readonly question: Name; readonly args: ArgsOf<Name> }
}[QuestionName]

/** A view as it is posted. */
export interface PostedView extends Omit<View, 'lines' | 'close'> {
  readonly lineCount: number
  /** Where the page reads lines itself; null: it asks for cells. `table`: null where it is that of the view before. */
  readonly read: { readonly view: FlowView; readonly table: Table | null } | null
}

/** Everything a page may ask of its engine's worker, and what is answered. */
export interface Calls {
  /**
   * `ended`: shared words in which the page notes calls that it gave up; null without shared memory. After an early
   * answer a change tells that all rows are there; until then progress is told, and the call can be cancelled.
   */
  open: { args: { input: RowsInput; ended: Int32Array | null; early: boolean }; answer: SourceDescription }
  view: { args: { request: ViewRequest }; answer: PostedView }
  /** The answer is the question's. */
  ask: { args: QuestionAsked; answer: unknown }
  commit: { args: { changes: ChangeSet; keyFields: readonly string[] }; answer: Committed }
  closeView: { args: { view: ViewId }; answer: null }
}

export type CallName = keyof Calls

export type ToWorker =
  | {
      [Name in CallName]: { readonly id: number; readonly call: Name; readonly args: Calls[Name]['args'] }
    }[CallName]
  | { readonly id: number; readonly call: 'cancel' }
  /** Whether it is there at all. */
  | { readonly id: 0; readonly call: 'ping' }
  /** The worker helps an engine that runs in another one, and hears of its tasks on a port of their own. */
  | { readonly id: 0; readonly call: 'helper'; readonly tasks: MessagePort }
  /** One more source uses the worker, over a port of its own. */
  | { readonly id: 0; readonly call: 'join'; readonly port: MessagePort }
  /** The source at the other end is closed; others go on with the worker. */
  | { readonly id: 0; readonly call: 'leave' }

export type FromWorker =
  | { readonly id: 0; readonly ready: true }
  /** It is there. */
  | { readonly id: 0; readonly here: true }
  /** The rows changed by themselves. */
  | { readonly id: 0; readonly change: SourceChange }
  | { readonly id: number; readonly progress: Progress }
  | { readonly id: number; readonly answer: unknown }
  | { readonly id: number; readonly cancelled: true }
  | { readonly id: number; readonly problem: SourceProblem }
  /** The caller asked for what cannot be; the message of a `RangeError`. */
  | { readonly id: number; readonly mistake: string }

/** What a helper is asked, and answers on its port. */
export type HelperQuestions = ShareQuestions & MakeQuestions
export type HelperQuestion = {
  [Name in keyof HelperQuestions]: { readonly call: Name } & HelperQuestions[Name]['asked']
}[keyof HelperQuestions]

/** What goes to a helper's thread on its own port. */
export type ToHelper = HelperTask | ShareTask | { readonly id: number; readonly question: HelperQuestion }

export type FromHelper =
  | 'listening'
  | { readonly id: number; readonly answer: unknown }
  | { readonly id: number; readonly failed: true }
