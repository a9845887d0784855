/** What an expression comes to. `null` is the type of the word itself; `tags` are several texts. */
export type ValueType =
  'text' | 'integer' | 'number' | 'boolean' | 'date' | 'time' | 'moment' | 'tags' | 'null'

export interface Literal {
  readonly kind: 'literal'
  readonly type: ValueType
  /** As it was written: digits for numbers, the text without its quotes, ISO for dates and times, `true`, `false`. */
  readonly text: string
}

export type BinaryOperator =
  'eq' | 'ne' | 'gt' | 'ge' | 'lt' | 'le' | 'and' | 'or' | 'add' | 'sub' | 'mul' | 'div' | 'divby' | 'mod'

/** An expression of the OData v4.01 URL conventions, as far as it is understood here. */
export type Expression =
  | Literal
  | { readonly kind: 'property'; readonly name: string }
  | { readonly kind: 'call'; readonly name: string; readonly args: readonly Expression[] }
  | {
      readonly kind: 'binary'
      readonly operator: BinaryOperator
      readonly left: Expression
      readonly right: Expression
    }
  | { readonly kind: 'not' | 'negative'; readonly of: Expression }
  | { readonly kind: 'in'; readonly of: Expression; readonly list: readonly Expression[] }
  /** Of a property that is several: whether any of its values, or each, meets a test in which `variable` stands for it. */
  | {
      readonly kind: 'any' | 'all'
      readonly property: string
      readonly variable: string
      readonly test: Expression | null
    }
