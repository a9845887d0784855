import * as z from 'zod/mini'
import '../zod.ts'

const plain = z.union([z.string(), z.number(), z.boolean(), z.null(), z.array(z.string())])
const key = z.union([
  z.string(),
  z.number(),
  z.boolean(),
  z.null(),
  z.array(z.union([z.string(), z.number(), z.boolean(), z.null()])),
])
const cells = z.record(z.string(), plain)

/**
 * What was changed and is not saved, as one plain document: to save, keep, hand on and take in. Days, times and moments
 * as ISO 8601 writes them, tags as lists.
 */
export const changeListSchema = z.object({
  format: z.literal('vast-meadow-changes'),
  version: z.literal(1),
  changed: z
    .array(z.object({ key, before: cells, after: cells }))
    .check(z.describe('Rows of which cells are to be others: what is saved of these, and what is to be.')),
  added: z
    .array(z.object({ name: z.string(), values: cells }))
    .check(z.describe('New rows; the name is theirs until they have a key.')),
  removed: z.array(z.object({ key })).check(z.describe('Rows that are to go.')),
  notValid: z
    ._default(
      z.array(
        z.object({ key: z.optional(key), name: z.optional(z.string()), field: z.string(), text: z.string() }),
      ),
      [],
    )
    .check(z.describe('Texts as they were typed that say no value; they are kept, and never saved.')),
})

const record = z.record(z.string(), z.unknown())

/** What came of one row of a save. */
const rowAnswer = z.object({
  key: z.optional(key),
  name: z.optional(z.string()).check(z.describe('Of a new row.')),
  saved: z
    .optional(z.union([z.literal(true), record]))
    .check(z.describe('It is saved; the row as it is now, or true where that is as it was to be.')),
  refused: z.optional(z.string()).check(z.describe('Why it was not saved.')),
  fields: z
    .optional(z.record(z.string(), z.string()))
    .check(z.describe('The same, by the field it is about.')),
  there: z
    .optional(z.union([record, z.null()]))
    .check(
      z.describe('Another has changed it meanwhile: the row as it is there; null: it is there no more.'),
    ),
})

/** What came of a save. Rows that are not named are saved as they were to be. */
export const saveAnswerSchema = z.object({ rows: z._default(z.array(rowAnswer), []) })

export type ChangeList = z.infer<typeof changeListSchema>
export type SaveAnswer = z.input<typeof saveAnswerSchema>
export type RowAnswer = z.infer<typeof rowAnswer>
