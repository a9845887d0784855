import * as z from 'zod/mini'
import '../zod.ts'
import { conditionKinds, partSchemas, type ConditionKindName } from './kinds/index.ts'
import type { FieldType } from '../table/column.ts'

/** One thing that a column asks of its value: its kind, and what that kind needs to know. */
export const conditionPartSchema = z.discriminatedUnion('kind', partSchemas)

/** What one column asks of a row: parts of which all, or any, must hold. Plain JSON, apart from any editor of it. */
export const conditionSchema = z.object({
  match: z._default(z.enum(['all', 'any']), 'all'),
  parts: z.array(conditionPartSchema).check(z.minLength(1)),
})

export type ConditionPart = z.infer<typeof conditionPartSchema>
export type Condition = z.infer<typeof conditionSchema>
export type { ConditionKindName }

/** The kinds that can ask a column of a type, in the order in which editors offer them; one's own are not among them. */
export const kindsFor = (type: FieldType): ConditionKindName[] =>
  conditionKinds.filter(({ name, types }) => name !== 'own' && types.includes(type)).map(({ name }) => name)

/** The kind that an editor starts with where the definition does not say. */
export function usualKind(type: FieldType): ConditionKindName {
  if (type === 'text') return 'contains'
  if (type === 'boolean') return 'equals'
  return type === 'tags' ? 'one-of' : 'range'
}
