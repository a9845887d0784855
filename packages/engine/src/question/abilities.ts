import type { ConditionKindName } from '../condition/condition.ts'
import type { BucketKind } from '../group/bucket.ts'
import type { Keep } from '../group/level.ts'
import type { SummaryKind } from '../summary/summary.ts'

/** Why a source cannot do something: a code, and the facts that a sentence needs. */
export type Refusal =
  /** Cells are worked out when they are looked at; nobody knows them all. */
  | { readonly code: 'rows-computed' }
  /** The service that answers does not offer it. */
  | { readonly code: 'service-cannot'; readonly service: string }

/** That something can be done, or why not. */
export type Ability = true | Refusal

/** The same for each of some kinds: `others` for those that are not named. */
export interface PerKind<Kind extends string> {
  readonly others: Ability
  readonly kinds?: Readonly<Partial<Record<Kind, Ability>>>
}

type OrderKind = 'value' | 'shown' | 'natural' | 'expression'

/** What a source can do by itself, and of what it cannot, why. */
export interface Abilities {
  readonly order: PerKind<OrderKind>
  readonly conditions: PerKind<ConditionKindName>
  readonly search: Ability
  readonly groups: PerKind<BucketKind>
  /** Whether groups can be kept by what they come to, and the others held back; left out: as rows can be grouped. */
  readonly keep?: Ability
  /** Whether those that are not kept can be one group together; left out: as they can be kept. */
  readonly rest?: Ability
  readonly summaries: PerKind<SummaryKind>
  /** By the names of questions. */
  readonly questions: PerKind<string>
  /** Whether rows can be changed by their key. */
  readonly commit: Ability
  /** Of sources that save changes where the rows are, see `RowSource.save`: which of them. Left out: they save none. */
  readonly save?: SaveAbilities
}

export interface SaveAbilities {
  readonly update: Ability
  readonly insert: Ability
  readonly remove: Ability
  /** Fields that cannot be changed in rows that are there. */
  readonly fixed: readonly string[]
}

/** The ability for a kind. */
const abilityOf = <Kind extends string>(can: PerKind<Kind>, kind: Kind): Ability =>
  can.kinds?.[kind] ?? can.others

/** Whether a kind can be had; without one, whether any can. */
export function isAble<Kind extends string>(can: PerKind<Kind> | undefined, kind?: Kind): boolean {
  if (!can) return false
  if (kind !== undefined) return abilityOf(can, kind) === true
  return can.others === true || Object.values(can.kinds ?? {}).includes(true)
}

/** Whether groups can be kept so; where nothing is said of it, they can. */
export const canKeep = ({ most }: Keep, { keep = true, rest = keep }: Abilities): boolean =>
  keep === true && (most?.rest !== 'together' || rest === true)

/** Everything. */
export const ALL_ABILITIES: Abilities = {
  order: { others: true },
  conditions: { others: true },
  search: true,
  groups: { others: true },
  summaries: { others: true },
  questions: { others: true },
  commit: true,
}

/** Nothing but lines and a few questions, for a reason. */
export function onlyLines(why: Refusal, questions: readonly string[]): Abilities {
  const none = { others: why }
  return {
    order: none,
    conditions: none,
    search: why,
    groups: none,
    keep: why,
    rest: why,
    summaries: none,
    questions: { others: why, kinds: Object.fromEntries(questions.map(name => [name, true])) },
    commit: why,
  }
}
