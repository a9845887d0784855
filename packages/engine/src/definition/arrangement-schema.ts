import * as z from 'zod/mini'
import '../zod.ts'
import { levelInputSchema } from '../group/level.ts'
import { summarySchema } from '../summary/summary.ts'
import { conditionsSchema, openGroupsSchema, orderKeySchema } from '../flow/request.ts'

const keyPartSchema = z.union([z.string(), z.number(), z.boolean(), z.null()])
/** What names a row: a value, or one of each key field. */
const rowKeySchema = z.union([keyPartSchema, z.array(keyPartSchema)])

/** What a reader may change. Columns are named by their key. */
export const arrangementSchema = z.object({
  columns: z.array(z.string()).check(z.describe('All columns, in the order in which they stand.')),
  widths: z
    .record(z.string(), z.number())
    .check(z.describe('By column: widths in CSS px that differ from the definition’s.')),
  hidden: z.array(z.string()).check(z.describe('Columns that are not shown.')),
  pinnedStart: z.array(z.string()).check(z.describe('Columns held at the start edge.')),
  pinnedEnd: z.array(z.string()).check(z.describe('Columns held at the end edge.')),
  pinnedRows: z
    .object({ head: z._default(z.array(rowKeySchema), []), foot: z._default(z.array(rowKeySchema), []) })
    .check(
      z.describe(
        'Rows, by their keys, that stay at the head and the foot of the body, whatever is arranged.',
      ),
    ),
  compared: z
    .array(z.string())
    .check(
      z.maxLength(2),
      z.describe(
        'Two columns whose cells are marked in the rows where they differ; none: nothing is compared.',
      ),
    ),
  order: z.array(orderKeySchema).check(z.describe('The keys by which rows are ordered, first key first.')),
  conditions: conditionsSchema.check(z.describe('By column: what it asks of a row.')),
  where: z
    .string()
    .check(
      z.describe(
        'An expression over any columns that must be true of a row, beside the conditions; empty: none.',
      ),
    ),
  search: z.string().check(z.describe('Words that must all stand in a row; quotes keep words together.')),
  groups: z
    .array(levelInputSchema)
    .check(z.describe('By what rows are grouped, the outermost level first; a column alone: by its values.')),
  summaries: z
    .record(z.string(), summarySchema)
    .check(z.describe('By column: what it comes to in each group, and in all rows.')),
  page: z
    .int()
    .check(z.minimum(0), z.describe('The page that is shown, counted from 0, where there are pages.')),
  pageSize: z
    .nullable(z.int().check(z.minimum(1), z.maximum(10_000)))
    .check(z.describe('Lines on a page; null: as many as the definition says.')),
  open: openGroupsSchema.check(z.describe('Which groups are open.')),
})

export type Arrangement = Readonly<z.infer<typeof arrangementSchema>>
