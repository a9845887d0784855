import * as z from 'zod/mini'
import '../../zod.ts'
import type { FieldType } from '../../table/column.ts'

const texts = z.array(z.string()).check(z.minLength(1))
const shared = {
  key: z.string().check(z.minLength(1)),
  missing: z.optional(z.number().check(z.minimum(0), z.maximum(1))),
}

/** How the values of one made-up column come about. */
const recipeColumnSchema = z.discriminatedUnion('kind', [
  /** 0-based row number plus `start`. */
  z.object({ ...shared, kind: z.literal('count'), start: z._default(z.int(), 1) }),
  /** Whole or decimal numbers between two ends; `lean`, a whole power, favours the lower end. */
  z.object({
    ...shared,
    kind: z.literal('number'),
    from: z.number(),
    to: z.number(),
    decimals: z._default(z.int().check(z.minimum(0), z.maximum(15)), 0),
    lean: z._default(z.int().check(z.minimum(1), z.maximum(6)), 1),
  }),
  /** Days (ISO) between two ends. */
  z.object({ ...shared, kind: z.literal('date'), from: z.iso.date(), to: z.iso.date() }),
  /** Instants between two days, to the second. */
  z.object({ ...shared, kind: z.literal('time'), from: z.iso.date(), to: z.iso.date() }),
  /** True with a probability. */
  z.object({
    ...shared,
    kind: z.literal('yes-no'),
    yes: z._default(z.number().check(z.minimum(0), z.maximum(1)), 0.5),
  }),
  /** One of some texts; `lean`, a whole power, favours the first. */
  z.object({
    ...shared,
    kind: z.literal('pick'),
    of: texts,
    lean: z._default(z.int().check(z.minimum(1), z.maximum(6)), 1),
  }),
  /** Texts put together of one part of each list; as many different ones as there are combinations. */
  z.object({
    ...shared,
    kind: z.literal('compose'),
    parts: z.array(texts).check(z.minLength(1), z.maxLength(4)),
    lean: z._default(z.int().check(z.minimum(1), z.maximum(6)), 1),
    between: z._default(z.string(), ' '),
  }),
  /** A value of another composed or picked column, with a number of its own: plots of a site. */
  z.object({
    ...shared,
    kind: z.literal('within'),
    column: z.string(),
    count: z.int().check(z.minimum(1)),
    between: z.string(),
  }),
  /** A short remark of some words; nearly all different. */
  z.object({
    ...shared,
    kind: z.literal('remark'),
    words: texts,
    least: z.int().check(z.minimum(1)),
    most: z.int().check(z.minimum(1)),
  }),
])

/** Made-up rows: from the same recipe come the same rows, everywhere and in any order of asking. */
export const recipeSchema = z.object({
  name: z.string(),
  rows: z.int().check(z.minimum(0), z.maximum(2 ** 31 - 1)),
  seed: z._default(z.int(), 1),
  columns: z.array(recipeColumnSchema).check(z.minLength(1)),
})

export type RecipeColumn = z.infer<typeof recipeColumnSchema>
export type Recipe = z.infer<typeof recipeSchema>
export type RecipeInput = z.input<typeof recipeSchema>

export function recipeFieldType(column: RecipeColumn): FieldType {
  switch (column.kind) {
    case 'count':
      return 'integer'
    case 'number':
      return column.decimals === 0 ? 'integer' : 'number'
    case 'date':
      return 'date'
    case 'time':
      return 'datetime'
    case 'yes-no':
      return 'boolean'
    default:
      return 'text'
  }
}
