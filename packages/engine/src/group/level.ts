import * as z from 'zod/mini'
import '../zod.ts'
import { conditionSchema } from '../condition/condition.ts'
import { summarySchema } from '../summary/summary.ts'
import { bucketSchema } from './bucket.ts'

/** Something of a group that is a number or a value: its size, or a summary of a column. */
const measureSchema = z.union([
  z.literal('size').check(z.describe('How many rows it has.')),
  z.object({ column: z.string(), summary: summarySchema }),
])
export type GroupMeasure = z.infer<typeof measureSchema>

const directionSchema = z.enum(['ascending', 'descending'])

/** The order of the groups of a level. */
const groupOrderSchema = z.object({
  by: z
    ._default(z.union([z.enum(['key', 'shown']), measureSchema]), 'key')
    .check(z.describe('What makes the group one, how that is written, its size, or a summary of a column.')),
  direction: z._default(directionSchema, 'ascending'),
  missing: z
    ._default(z.enum(['first', 'last']), 'last')
    .check(z.describe('Where the group of rows without a value comes, in both directions.')),
})

/** Which groups of a level are kept. */
const keepSchema = z.object({
  where: z
    ._default(z.array(z.object({ of: measureSchema, condition: conditionSchema })), [])
    .check(z.describe('What the groups must meet, all of it.')),
  most: z
    .optional(
      z.object({
        count: z.int().check(z.minimum(1)),
        of: measureSchema,
        direction: z
          ._default(directionSchema, 'descending')
          .check(z.describe('Whether the greatest are kept or the least.')),
        rest: z
          ._default(z.enum(['together', 'out']), 'out')
          .check(z.describe('The others are one group together, or left out.')),
      }),
    )
    .check(z.describe('Only so many groups, within each group of the level above.')),
})

/** One level of grouping. */
export const levelSchema = z.object({
  column: z.string(),
  bucket: z._default(bucketSchema, { by: 'value' }).check(z.describe('What falls into one group.')),
  order: z
    .prefault(groupOrderSchema, {})
    .check(z.describe('The order of its groups; that of rows is the arrangement’s.')),
  keep: z.optional(keepSchema).check(z.describe('Which of its groups are shown; default: all.')),
  feet: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether each open group ends in a line with its summaries.')),
})
export type Level = z.infer<typeof levelSchema>

/** A level by a column, with what is left out as it is by default. */
export const levelOf = (column: string, more: Partial<z.input<typeof levelSchema>> = {}): Level =>
  levelSchema.parse({ column, ...more })

/** A level as it may be written down: by the values of a column its name says all. */
export const levelInputSchema = z.union([
  levelSchema,
  z.pipe(
    z.string(),
    z.transform((column): Level => levelOf(column)),
  ),
])
export type GroupOrder = Level['order']
export type Keep = NonNullable<Level['keep']>
