import * as z from 'zod'
import '../zod.ts'
import { conditionsSchema, openGroupsSchema, orderKeySchema } from '../flow/request.ts'

/** What a reader may change. Columns are named by their key. */
export const arrangementSchema = z.object({
  /** All columns, in the order in which they stand. */
  columns: z.array(z.string()),
  /** Widths in CSS px that differ from the definition's. */
  widths: z.record(z.string(), z.number()),
  hidden: z.array(z.string()),
  /** Columns held at the start edge, and at the end edge. */
  pinnedStart: z.array(z.string()),
  pinnedEnd: z.array(z.string()),
  order: z.array(orderKeySchema),
  conditions: conditionsSchema,
  search: z.string(),
  group: z.string().nullable(),
  open: openGroupsSchema,
})

export type Arrangement = Readonly<z.infer<typeof arrangementSchema>>
