/** What is wrong with a question: a code, and the facts that a sentence needs. Nothing of statements or paths. */
export type QuestionProblem =
  | { readonly code: 'unreadable'; readonly option: string; readonly at: number; readonly near: string }
  | { readonly code: 'too-deep'; readonly option: string; readonly most: number }
  | { readonly code: 'no-such-property'; readonly name: string }
  | { readonly code: 'no-such-function'; readonly name: string }
  | { readonly code: 'wrong-type'; readonly what: string; readonly given: string }
  /** A property of a row that is to be changed was given what it cannot hold. */
  | { readonly code: 'wrong-value'; readonly property: string; readonly what: string }
  | { readonly code: 'not-json' }
  /** A property that may not be changed. */
  | { readonly code: 'fixed'; readonly property: string }
  /** What the database wants of a row is not met. */
  | { readonly code: 'breaks-rule' }
  | { readonly code: 'not-storable' }
  /** Another row has this key. */
  | { readonly code: 'row-is-there' }
  /** The row is not the one that whoever asks has seen. */
  | { readonly code: 'changed-meanwhile' }
  | { readonly code: 'not-a-literal'; readonly text: string }
  | { readonly code: 'not-a-pattern'; readonly text: string }
  | { readonly code: 'unknown-option'; readonly name: string }
  | { readonly code: 'wrong-number'; readonly option: string; readonly text: string }
  | { readonly code: 'not-offered'; readonly what: string }
  | { readonly code: 'no-such-table'; readonly name: string }
  | { readonly code: 'no-such-row' }
  | { readonly code: 'not-allowed' }
  | { readonly code: 'method-not-allowed'; readonly method: string }
  | { readonly code: 'too-many-rows'; readonly most: number }
  | { readonly code: 'too-long' }
  | { readonly code: 'too-slow'; readonly seconds: number }
  | { readonly code: 'too-busy' }
  | { readonly code: 'engine-gone' }
  /** The rows are being made ready: so many of so many are. */
  | { readonly code: 'preparing'; readonly doing: string; readonly done: number; readonly of: number }
  | { readonly code: 'given-up' }
  | { readonly code: 'failed' }

/** A question that is not answered, and why. */
export class QuestionError extends Error {
  override readonly name = 'QuestionError'
  readonly problem: QuestionProblem
  constructor(problem: QuestionProblem) {
    super(problem.code)
    this.problem = problem
  }
}
