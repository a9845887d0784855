import * as z from 'zod/mini'
import '../zod.ts'
import type { Clock } from '../condition/clock.ts'
import { conditionSchema, type Condition } from '../condition/condition.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import type { Format } from '../table/format.ts'
import type { PackedRows } from '../table/row-id.ts'
import type { Level } from '../group/level.ts'

export const orderKeySchema = z.object({ column: z.string(), direction: z.enum(['ascending', 'descending']) })
export type OrderKey = z.infer<typeof orderKeySchema>

const groupKeySchema = z.union([
  z.string(),
  z.number(),
  z.boolean(),
  z.null(),
  z.object({ rest: z.literal(true) }),
])

/** Which groups are open. */
export const openGroupsSchema = z.object({
  levels: z
    ._default(z.nullable(z.int().check(z.minimum(0))), null)
    .check(z.describe('So many levels are open, from the outermost on; null: all.')),
  except: z
    ._default(z.array(z.array(groupKeySchema)), [])
    .check(
      z.describe('Groups of which the opposite holds, each by the keys of those around it and its own.'),
    ),
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

/** A level of groups as the flow is asked for it. */
export interface FlowLevel extends Level {
  /** The column whose values are taken, where it is another than the one that is named. */
  readonly from?: string
}

/** Some rows. `name`: the same for the same rows, another for others. */
export interface Among {
  readonly name: string
  readonly rows: PackedRows
}

/** What the flow is asked for: the part of an arrangement that decides which rows are where. */
export interface FlowRequest {
  readonly order: readonly FlowOrderKey[]
  /** By column. */
  readonly conditions: Readonly<Record<string, Condition>>
  readonly search: string
  /** Only these rows, beside all else that is asked; default: any. */
  readonly among?: Among
  /** The columns that the search looks in. */
  readonly searchColumns: readonly string[]
  /** By what rows are grouped, the outermost level first. */
  readonly groups: readonly FlowLevel[]
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

/** Groups that are not shown because of what their level keeps. */
export interface GroupsHeldBack {
  readonly level: number
  readonly groups: number
  readonly rows: number
}

export interface FlowReport {
  readonly stages: readonly StageReport[]
  /** Rows that meet the search, every condition, and what is asked of their groups. */
  readonly passing: number
  readonly total: number
  /** At least so many pass: those that are known by now. */
  readonly atLeast?: boolean
  /** Groups by level. */
  readonly groups: readonly number[]
  /** By level that keeps only some: what is held back. */
  readonly groupsHeldBack: readonly GroupsHeldBack[]
  /** By column: the rows that its condition alone keeps from passing, where the source counts them. */
  readonly heldBack: Readonly<Record<string, number>>
  /** The rows that the search alone keeps from passing; null: the source does not count them. */
  readonly searchHeldBack: number | null
  /** By column: milliseconds that its condition took when it was last asked. */
  readonly conditionMs: Readonly<Record<string, number>>
  /** By column: why parts of its condition could not be asked; such parts are met by no row. */
  readonly conditionProblems: Readonly<Record<string, readonly PartProblem[]>>
  /** Of rows elsewhere: those that were fetched, so that the page answers for them by itself; null: none were. */
  readonly near?: { readonly rows: number; readonly ms: number } | null
}
