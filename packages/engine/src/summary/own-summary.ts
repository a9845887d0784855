import type { FieldType, Value } from '../table/column.ts'

/**
 * A summary of one's own. Values are added in the order in which rows stand in the table, missing ones left out; states of parts of a group
 * may be merged, so that it must not matter how a group was parted. Runs where the rows are: with the engine in a worker
 * it is given to that worker, not to the page.
 */
export interface OwnSummary<State = unknown> {
  /** What readers see as its name. */
  readonly title: string
  /** The types it makes sense for; default: all. */
  readonly types?: readonly FieldType[]
  /** The state before any value. */
  start(): State
  /** The state after one more value; it may be the given one, changed. */
  add(state: State, value: NonNullable<Value>): State
  /** What two parts of a group come to together. */
  merge(a: State, b: State): State
  /** What a state comes to; null: nothing. */
  finish(state: State): Value
}

export type OwnSummaries = Readonly<Record<string, OwnSummary>>
