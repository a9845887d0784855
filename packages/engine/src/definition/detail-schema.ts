import * as z from 'zod/mini'
import '../zod.ts'

/** What a row shows of itself when it is opened. */
export const detailSchema = z.object({
  painter: z
    .optional(z.string().check(z.minLength(1)))
    .check(
      z.describe(
        'Name of the painter among `parts.details` that draws it; else columns are listed with what the row has in them.',
      ),
    ),
  columns: z
    .optional(z.array(z.string()))
    .check(
      z.describe(
        'Keys of the columns that are listed, in this order; default: those that are hidden or found no room.',
      ),
    ),
  several: z
    ._default(z.boolean(), true)
    .check(z.describe('Whether rows stay open when another one is opened.')),
})

export type DetailDefinition = z.infer<typeof detailSchema>
