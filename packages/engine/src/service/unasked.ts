import type { Condition } from '../condition/condition.ts'
import type { FlowLevel } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { ALL_ABILITIES, canKeep, isAble, type Abilities } from '../question/abilities.ts'
import { kindOf } from '../summary/summary.ts'
import { propertyNamed } from './rows-query.ts'
import type { ServiceSchema } from './schema.ts'

/** Something of a request that a service cannot be asked. */
export type Unasked =
  { readonly what: 'search' | 'groups' | 'order' } | { readonly what: 'condition'; readonly column: string }

/** What of a request decides which rows pass and where they stand, parted by whether the service can be asked for it. */
export interface AskedOfService {
  /** The request without what the service cannot be asked: more rows meet it. */
  readonly request: ViewRequest
  readonly unasked: readonly Unasked[]
}

/** Parts a request by what a service can. Columns that it does not hold are worked out by the page. */
export function partRequest(request: ViewRequest, schema: ServiceSchema, can: Abilities): AskedOfService {
  const unasked: Unasked[] = []
  const isKnown = (column: string): boolean => propertyNamed(schema, column) !== undefined
  const isInOrder = (column: string): boolean => {
    const type = propertyNamed(schema, column)?.field.type
    return type !== undefined && type !== 'tags'
  }
  const conditions: Record<string, Condition> = {}
  for (const [column, condition] of Object.entries(request.conditions)) {
    if (isKnown(column) && condition.parts.every(({ kind }) => isAble(can.conditions, kind)))
      conditions[column] = condition
    else unasked.push({ what: 'condition', column })
  }
  const searches = can.search === true || request.search.trim() === ''
  if (!searches) unasked.push({ what: 'search' })
  if (request.order.some(({ column }) => !isAble(can.order, 'value') || !isInOrder(column)))
    unasked.push({ what: 'order' })
  if (!request.groups.every(level => isInOrder(level.from ?? level.column) && isGrouped(level, can)))
    unasked.push({ what: 'groups' })
  return { request: { ...request, conditions, search: searches ? request.search : '' }, unasked }
}

const isGrouped = ({ bucket, keep, order: { by } }: FlowLevel, can: Abilities): boolean =>
  isAble(can.groups, bucket.by) &&
  (!keep || canKeep(keep, can)) &&
  (typeof by !== 'object' || isAble(can.summaries, kindOf(by.summary)))

/** What can be done with rows that are near: all that a page can, but to change them. */
export const nearAbilities = (can: Abilities): Abilities => ({
  ...ALL_ABILITIES,
  questions: { others: can.questions.others, kinds: { ...can.questions.kinds, lengthMap: true } },
  commit: can.commit,
  ...(can.save && { save: can.save }),
})
