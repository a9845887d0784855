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

/** The value of a field must be one that another has in some row, one that is like it where it says so. */
export interface AmongRule {
  readonly field: string
  readonly of: string
  /** Fields in which that row has the same; a field that is missing in this one does not count. */
  readonly like: readonly string[]
  readonly problem: CheckProblem
}

/** What a definition asks of rows beyond what a value alone can be asked. */
export interface RowRules {
  readonly rules: readonly CheckRule[]
  /** Fields in which no two rows may have the same value. */
  readonly unique: readonly string[]
  /** Fields whose values must be those that another field has in some row. */
  readonly amongValuesOf: readonly AmongRule[]
}
