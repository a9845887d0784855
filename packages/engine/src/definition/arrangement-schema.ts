import * as z from 'zod'
import '../zod.ts'
import { conditionsSchema, openGroupsSchema, orderKeySchema } from '../flow/request.ts'

/** What a reader may change. Columns are named by their key. */
export const arrangementSchema = z.object({
  columns: z.array(z.string()).describe('All columns, in the order in which they stand.'),
  widths: z
    .record(z.string(), z.number())
    .describe('By column: widths in CSS px that differ from the definition’s.'),
  hidden: z.array(z.string()).describe('Columns that are not shown.'),
  pinnedStart: z.array(z.string()).describe('Columns held at the start edge.'),
  pinnedEnd: z.array(z.string()).describe('Columns held at the end edge.'),
  order: z.array(orderKeySchema).describe('The keys by which rows are ordered, first key first.'),
  conditions: conditionsSchema.describe('By column: what it asks of a row.'),
  where: z
    .string()
    .describe(
      'An expression over any columns that must be true of a row, beside the conditions; empty: none.',
    ),
  search: z.string().describe('Words that must all stand in a row; quotes keep words together.'),
  group: z.string().nullable().describe('The column by which rows are grouped.'),
  page: z.int().min(0).describe('The page that is shown, counted from 0, where there are pages.'),
  pageSize: z
    .int()
    .min(1)
    .max(10_000)
    .nullable()
    .describe('Lines on a page; null: as many as the definition says.'),
  open: openGroupsSchema.describe(
    'Which groups are open: all but the named ones, or none but the named ones.',
  ),
})

export type Arrangement = Readonly<z.infer<typeof arrangementSchema>>
