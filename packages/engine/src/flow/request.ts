import * as z from 'zod'
import '../zod.ts'
import type { Clock } from '../condition/clock.ts'
import { conditionSchema, type Condition } from '../condition/condition.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import type { Format } from '../table/shown-text.ts'
import type { Value } from '../table/column.ts'

export const orderKeySchema = z.object({ column: z.string(), direction: z.enum(['ascending', 'descending']) })
export type OrderKey = z.infer<typeof orderKeySchema>

/** Which groups are open: all but the named ones, or none but the named ones. Named by their value. */
export const openGroupsSchema = z.object({
  all: z.boolean(),
  except: z.array(z.union([z.string(), z.number(), z.boolean(), z.null()])),
})
export type OpenGroups = z.infer<typeof openGroupsSchema>

export const conditionsSchema = z.record(z.string(), conditionSchema)

/** A key of an order as the flow is asked for it: with what the definition says of its column. */
export interface FlowOrderKey extends OrderKey {
  /** `shown`: by what the column shows; default: by its values. */
  readonly by?: 'value' | 'shown'
  /** Whether digits within texts count as the numbers they say. */
  readonly natural?: boolean
  /** Where rows without a value come, in both directions; default: last. */
  readonly missing?: 'first' | 'last'
}

/** What the flow is asked for: the part of an arrangement that decides which rows are where. */
export interface FlowRequest {
  readonly order: readonly FlowOrderKey[]
  /** By column. */
  readonly conditions: Readonly<Record<string, Condition>>
  readonly search: string
  /** The columns that the search looks in. */
  readonly searchColumns: readonly string[]
  /** The column by which rows are grouped. */
  readonly group: string | null
  readonly open: OpenGroups
  /** What “today” is reckoned by; default: the present, in UTC. */
  readonly clock?: Clock
}

/** How each column writes its values; columns that are not named use what follows from their field. */
export type Formats = Readonly<Record<string, Format>>

export type StageName = 'source' | 'columns' | 'search' | 'conditions' | 'order' | 'groups' | 'rows'

export interface StageReport {
  readonly stage: StageName
  readonly rowsIn: number
  readonly rowsOut: number
  /** Milliseconds of work; 0 where the last result still held. */
  readonly ms: number
  /** Whether the stage was computed again. */
  readonly fresh: boolean
}

export interface FlowReport {
  readonly stages: readonly StageReport[]
  /** Rows that meet the search and every condition. */
  readonly passing: number
  readonly total: number
  readonly groups: number
  /** By column: the rows that its condition alone keeps from passing. */
  readonly heldBack: Readonly<Record<string, number>>
  /** The rows that the search alone keeps from passing. */
  readonly searchHeldBack: number
  /** By column: milliseconds that its condition took when it was last asked. */
  readonly conditionMs: Readonly<Record<string, number>>
  /** By column: why parts of its condition could not be asked; such parts are met by no row. */
  readonly conditionProblems: Readonly<Record<string, readonly PartProblem[]>>
}

export interface ValueCount {
  readonly value: Value
  readonly shown: string
  readonly count: number
}

/** What a column holds over all rows. */
export interface Profile {
  readonly rows: number
  readonly missing: number
  /** How many different values there are; null: too many to be worth counting. */
  readonly distinct: number | null
  /** The most frequent values of texts and truths. */
  readonly values: readonly ValueCount[]
  /** For numbers and dates. */
  readonly low: number | null
  readonly high: number | null
  readonly lowShown?: string
  readonly highShown?: string
  readonly histogram: readonly number[]
}

/** What values a column holds under the search and all other columns' conditions. */
export interface Facets {
  /** The most frequent values first, at most as many as asked for; none for columns of mostly different numbers. */
  readonly values: readonly ValueCount[]
  /** How many different values occur; null where they were not counted. */
  readonly distinct: number | null
  readonly missing: number
  /** For numbers and dates: the extent over the whole table, and rows per equal step of it. */
  readonly low: number | null
  readonly high: number | null
  readonly histogram: readonly number[]
  /** The smallest and largest value among the rows that are counted. */
  readonly least: number | null
  readonly most: number | null
}
