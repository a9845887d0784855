import * as z from 'zod/mini'
import '../zod.ts'
import type { Clock } from '../condition/clock.ts'
import { conditionSchema, type Condition } from '../condition/condition.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import type { Format } from '../table/format.ts'

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
