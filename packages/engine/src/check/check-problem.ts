import type { FieldType } from '../table/column.ts'

/** Why a cell, or a row, is not right. */
export type CheckProblem =
  /** The text says no value of the column's type. */
  | { readonly code: 'not-of-type'; readonly type: FieldType; readonly text: string }
  /** The number has more digits than the column can tell apart. */
  | { readonly code: 'too-many-digits'; readonly text: string }
  | { readonly code: 'required' }
  | { readonly code: 'not-whole' }
  | { readonly code: 'below-least'; readonly least: string | number }
  | { readonly code: 'above-most'; readonly most: string | number }
  | { readonly code: 'too-short'; readonly shortest: number; readonly of: 'characters' | 'tags' }
  | { readonly code: 'too-long'; readonly longest: number; readonly of: 'characters' | 'tags' }
  | { readonly code: 'not-a-choice' }
  /** The value is none of those that other rows have beside the same in these columns. */
  | { readonly code: 'not-a-choice-beside'; readonly column: string; readonly beside: readonly string[] }
  | { readonly code: 'not-unique' }
  /** A pattern or an expression does not hold; `says`: what the definition says of it. */
  | { readonly code: 'not-matching'; readonly pattern: string; readonly says: string | null }
  | { readonly code: 'not-holding'; readonly expression: string; readonly says: string | null }
  /** The check itself cannot be worked out. */
  | { readonly code: 'check-failed'; readonly reason: string }
  /** The host's own words: of its check, or of its answer to a save. */
  | { readonly code: 'said'; readonly text: string }
