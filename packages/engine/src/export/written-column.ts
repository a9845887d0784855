import type { Column, Field, Value } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'

/** What is worked out for the lines of one part, by their place in it. */
export interface PartColumn {
  readonly kind: 'part'
  readonly values: readonly Value[]
}

/** A column to write: its field, its cells, and how it shows them. */
export interface WrittenColumn {
  readonly title: string
  readonly field: Field
  readonly column: Column | PartColumn
  readonly show: Show
  /** What the column comes to in groups, in the lines of their heads. */
  readonly heads?: { readonly field: Field; readonly show: Show; readonly column: PartColumn }
}

/** Lines to write: a row's number in the table, or below 0 the head of a group. */
export type WrittenLines = readonly number[]

/** Stands for the head of a group among lines. */
export const HEAD_LINE = -1
