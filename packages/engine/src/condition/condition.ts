import * as z from 'zod'
import '../zod.ts'
import { partSchemas } from './kinds/index.ts'

/** One thing that a column asks of its value: its kind, and what that kind needs to know. */
export const conditionPartSchema = z.discriminatedUnion('kind', partSchemas)

/** What one column asks of a row: parts of which all, or any, must hold. Plain JSON, apart from any editor of it. */
export const conditionSchema = z.object({
  match: z.enum(['all', 'any']).default('all'),
  parts: z.array(conditionPartSchema).min(1),
})

export type ConditionPart = z.infer<typeof conditionPartSchema>
export type Condition = z.infer<typeof conditionSchema>
