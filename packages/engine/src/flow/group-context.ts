import { gatherByGroup } from '../group/gather-rows-by-group.ts'
import type { SummaryParts } from '../group/group-base.ts'
import type { GroupSummaries } from '../group/group-summaries.ts'
import { orderNodes, startsOf } from '../group/group-tree.ts'
import type { LevelBuckets } from '../group/level-buckets.ts'
import type { Bucket } from '../group/bucket.ts'
import type { ColumnCodes } from '../order/column-codes.ts'
import type { OrderBy } from '../order/order-rows.ts'
import type { Runs } from '../summary/runs.ts'
import type { ColumnIndex, Table } from '../table/column.ts'
import type { Format } from '../table/format.ts'
import type { Show } from '../table/shown-text.ts'
import type { Work } from '../work/work.ts'
import type { PlaceOf } from './group-measures.ts'
import type { ConditionTools } from './predicates.ts'
import type { FlowLevel, Formats } from './request.ts'

/** A level whose column is there. */
export interface StagedLevel {
  readonly level: FlowLevel
  /** The column that is named. */
  readonly named: ColumnIndex
  /** The column whose values are taken. */
  readonly place: ColumnIndex
  readonly bucket: Bucket
  readonly buckets: LevelBuckets
}

/** What the stage before came to. */
export interface Before<T> {
  readonly value: T
  readonly signature: string
}

/** The passing rows in their order; null: all rows as they stand. */
export interface OrderedRows extends Before<Uint32Array | null> {
  readonly keys: readonly OrderBy[]
}

/** The flow that groups are made in. */
export interface GroupContext {
  readonly table: Table
  readonly codes: ColumnCodes
  readonly formats: Formats
  readonly shows: readonly Show[]
  readonly tools: ConditionTools
  readonly parts: SummaryParts
  placeOf: PlaceOf
  /** Compares rows as the order of rows has them. */
  compareRows: (keys: readonly OrderBy[]) => (a: number, b: number) => number
}

/** How a column is written. */
export const formatOf = (formats: Formats, column: string): Format => formats[column] ?? {}

/** Rows in their order, group by group as the tree has them. */
export const arrangedRuns = (
  { tree, base }: GroupSummaries,
  level: number,
  ordered: Uint32Array | null,
): (() => Work<Runs>) =>
  function* () {
    const order = yield* orderNodes(
      tree,
      tree.levels.map(() => null),
    )
    const starts = startsOf(tree, order)
    const { codes } = base.levels.combined
    return {
      rows: yield* gatherByGroup(codes, tree, order, starts[starts.length - 1], ordered),
      starts: starts[level],
    }
  }

export const comparing =
  (keys: Float64Array, down: boolean): ((a: number, b: number) => number) =>
  (a, b) => {
    const [x, y] = [keys[a], keys[b]]
    if (x === y) return 0
    // What comes to nothing is last in both directions.
    if (Number.isNaN(x) || Number.isNaN(y)) return Number.isNaN(x) ? (Number.isNaN(y) ? 0 : 1) : -1
    return x < y === down ? 1 : -1
  }
