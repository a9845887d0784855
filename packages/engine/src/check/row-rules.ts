import type { CheckProblem } from './check-problem.ts'

/** A check by expression: where it is not true, so much is said of these cells. */
export interface CheckRule {
  readonly key: string
  readonly expression: string
  /** The cells at which it is said; none: of the row. */
  readonly fields: readonly string[]
  readonly problem: CheckProblem
  /** It says nothing of rows that have no value in its own cell. */
  readonly onlyPresent: boolean
}

/** What a definition asks of rows beyond what a value alone can be asked. */
export interface RowRules {
  readonly rules: readonly CheckRule[]
  /** Fields in which no two rows may have the same value. */
  readonly unique: readonly string[]
  /** Fields whose values must be those that another field has in some row. */
  readonly amongValuesOf: readonly { readonly field: string; readonly of: string }[]
}
