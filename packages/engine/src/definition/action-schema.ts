import * as z from 'zod/mini'
import '../zod.ts'
import { TONES } from './tones.ts'

const name = z.string().check(z.minLength(1))
const common = {
  title: z.string().check(z.minLength(1), z.describe('What stands on the button.')),
  tone: z.optional(z.enum(TONES)),
  deletes: z
    ._default(z.boolean(), false)
    .check(
      z.describe(
        'Whether the grid takes the rows out of its own once that is done, and puts them back when it is undone. Rows need a key for that.',
      ),
    ),
}

/** Something that is done with one row. */
export const actionSchema = z.object({
  name: name.check(z.describe('Names the action in the `action` event and among `parts.actions`.')),
  ...common,
  confirm: z
    .optional(z.string())
    .check(
      z.describe(
        'A question that is asked before it happens; `{variety}` stands for what the row shows in the column of that key.',
      ),
    ),
  when: z
    .optional(z.string())
    .check(z.describe('An expression; the button can be used in rows where it is true.')),
  shown: z
    .optional(z.string())
    .check(z.describe('An expression; the button is there in rows where it is true.')),
})

/** Something that is done with all selected rows. */
export const batchActionSchema = z.object({
  name: name.check(z.describe('Names the action in the `batch` event and among `parts.batch`.')),
  ...common,
  confirm: z
    .optional(z.string())
    .check(
      z.describe(
        'A question that is asked before it happens; `{count}` stands for how many rows are selected.',
      ),
    ),
  when: z
    .optional(z.string())
    .check(
      z.describe(
        'An expression over `selectedCount`, such as `selectedCount >= 4`; the button can be used while it is true.',
      ),
    ),
  shown: z
    .optional(z.string())
    .check(
      z.describe(
        'An expression over `selectedCount`; the button is there while it is true. Default: while any row is selected.',
      ),
    ),
})

export type ActionDefinition = z.infer<typeof actionSchema>
export type BatchActionDefinition = z.infer<typeof batchActionSchema>
