import * as z from 'zod/mini'
import '../zod.ts'
import { actionSchema } from './action-schema.ts'
import { TONES } from './tones.ts'

const tone = z.enum(TONES)

/** How a column's cells are drawn. */
export const cellSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text') }).check(z.describe('The value as its format writes it.')),
  z.object({ kind: z.literal('check') }).check(z.describe('A mark for yes, a stroke for no.')),
  z
    .object({ kind: z.literal('tags'), tone: z.optional(tone) })
    .check(z.describe('Each tag in a frame of its own.')),
  z
    .object({
      kind: z.literal('link'),
      address: z
        .optional(z.string())
        .check(z.describe('The field that holds the address; else the cell’s own value.')),
    })
    .check(z.describe('A link; addresses of http and https, and those within the site.')),
  z
    .object({
      kind: z.literal('mail'),
      address: z
        .optional(z.string())
        .check(z.describe('The field that holds the address; else the cell’s own value.')),
    })
    .check(z.describe('A link that writes a mail.')),
  z
    .object({
      kind: z.literal('picture'),
      width: z._default(z.int().check(z.minimum(8), z.maximum(1000)), 24).check(z.describe('In CSS px.')),
      height: z
        ._default(z.int().check(z.minimum(8), z.maximum(1000)), 24)
        .check(z.describe('In CSS px; rows are not made higher by it.')),
      round: z._default(z.boolean(), false),
      alt: z
        .optional(z.string())
        .check(
          z.describe('The field whose text stands for the picture; without one it is taken for decoration.'),
        ),
    })
    .check(z.describe('A picture, loaded when it comes into view.')),
  z
    .object({
      kind: z.literal('badge'),
      mark: z
        ._default(z.enum(['dot', 'square', 'filled']), 'dot')
        .check(z.describe('A mark before the text, or a filled frame.')),
      tones: z
        ._default(z.record(z.string(), tone), {})
        .check(z.describe('By value: its tone. Values that are not named are `stone`.')),
    })
    .check(z.describe('A value with a mark of its tone.')),
  z
    .object({
      kind: z.literal('bar'),
      low: z
        .optional(z.number())
        .check(z.describe('The value of an empty bar; else 0, or the least value where that is below.')),
      high: z
        .optional(z.number())
        .check(z.describe('The value of a full bar; else the greatest in the column.')),
      tone: z._default(tone, 'straw'),
    })
    .check(z.describe('A bar behind the number, as long as the value is high.')),
  z
    .object({ kind: z.literal('actions'), actions: z.array(actionSchema).check(z.minLength(1)) })
    .check(z.describe('Buttons that do something with the row.')),
])

export type CellDefinition = z.infer<typeof cellSchema>
