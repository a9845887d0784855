import type { TextRange } from './tree.ts'

/** What a value can be inside an expression. `duration`: milliseconds; `list`: written out, only behind `in`. */
export type ValueType =
  'text' | 'number' | 'boolean' | 'date' | 'time' | 'datetime' | 'duration' | 'tags' | 'list' | 'nothing'

/** Why an expression cannot be used; found before anything runs. */
export type ExpressionProblem = { readonly at: TextRange } & (
  | { readonly code: 'not-written-right'; readonly found: string | null }
  | { readonly code: 'not-closed'; readonly found: string }
  | { readonly code: 'unknown-name'; readonly name: string; readonly nearest: string | null }
  | { readonly code: 'unknown-function'; readonly name: string; readonly nearest: string | null }
  | {
      readonly code: 'wrong-types'
      readonly name: string
      readonly given: readonly ValueType[]
      /** The types that would do, one list a way to call it. */
      readonly wanted: readonly (readonly ValueType[])[]
    }
  | { readonly code: 'branches-differ'; readonly given: readonly [ValueType, ValueType] }
  | { readonly code: 'nothing-compared' }
  | { readonly code: 'not-readable'; readonly what: ValueType | 'pattern'; readonly text: string }
  | { readonly code: 'must-be-written-out'; readonly name: string }
  | { readonly code: 'not-in-dialect'; readonly what: string }
  | { readonly code: 'no-such-result'; readonly given: ValueType; readonly wanted: 'value' | 'boolean' }
  | { readonly code: 'circular'; readonly names: readonly string[] }
  | { readonly code: 'source-cannot-compute' }
  | { readonly code: 'parser-not-there'; readonly reason: string }
)
