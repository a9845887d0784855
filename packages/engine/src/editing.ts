// What a page needs to have rows changed: loaded when the first grid lets them be.
export type { CheckProblem } from './check/check-problem.ts'
export type { RowRules } from './check/row-rules.ts'
export { rowRules } from './definition/row-rules.ts'
export type { RowProblem } from './check/check-rows.ts'
export { checkValue } from './check/check-value.ts'
export { readTyped, tagsText, textToEdit, type Typed } from './check/read-typed.ts'
export {
  changeListSchema,
  saveAnswerSchema,
  type ChangeList,
  type RowAnswer,
  type SaveAnswer,
} from './pending/change-list.ts'
export { replacer, type Replacing } from './check/replace-text.ts'
export { plainValue, valueFromPlain, type PlainValue } from './check/plain-value.ts'
export {
  hasProblem,
  isInConflict,
  keyName,
  refOf,
  TypedChanges,
  type CellContent,
  type PendingCounts,
  type RowRef,
  type RowState,
  type Step,
  type TypedCell,
  type TypedRow,
} from './pending/typed-changes.ts'
export { checkProblemText } from './words/check-problem-text.ts'
