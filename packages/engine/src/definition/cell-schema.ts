import * as z from 'zod'
import '../zod.ts'
import { TONES } from './tones.ts'

const tone = z.enum(TONES)

export const actionSchema = z.object({
  name: z.string().min(1).describe('Names the action in the `action` event and among `parts.actions`.'),
  title: z.string().min(1).describe('What stands on the button.'),
  tone: tone.optional(),
  confirm: z.string().optional().describe('A question that is asked before it happens.'),
  when: z.string().optional().describe('An expression; the button can be used in rows where it is true.'),
})

/** How a column's cells are drawn. */
export const cellSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text') }).describe('The value as its format writes it.'),
  z.object({ kind: z.literal('check') }).describe('A mark for yes, a stroke for no.'),
  z.object({ kind: z.literal('tags'), tone: tone.optional() }).describe('Each tag in a frame of its own.'),
  z
    .object({
      kind: z.literal('link'),
      address: z.string().optional().describe('The field that holds the address; else the cell’s own value.'),
    })
    .describe('A link; addresses of http and https, and those within the site.'),
  z
    .object({
      kind: z.literal('mail'),
      address: z.string().optional().describe('The field that holds the address; else the cell’s own value.'),
    })
    .describe('A link that writes a mail.'),
  z
    .object({
      kind: z.literal('picture'),
      width: z.int().min(8).max(1000).default(24).describe('In CSS px.'),
      height: z.int().min(8).max(1000).default(24).describe('In CSS px; rows are not made higher by it.'),
      round: z.boolean().default(false),
      alt: z
        .string()
        .optional()
        .describe('The field whose text stands for the picture; without one it is taken for decoration.'),
    })
    .describe('A picture, loaded when it comes into view.'),
  z
    .object({
      kind: z.literal('badge'),
      mark: z
        .enum(['dot', 'square', 'filled'])
        .default('dot')
        .describe('A mark before the text, or a filled frame.'),
      tones: z
        .record(z.string(), tone)
        .default({})
        .describe('By value: its tone. Values that are not named are `stone`.'),
    })
    .describe('A value with a mark of its tone.'),
  z
    .object({
      kind: z.literal('bar'),
      low: z
        .number()
        .optional()
        .describe('The value of an empty bar; else 0, or the least value where that is below.'),
      high: z.number().optional().describe('The value of a full bar; else the greatest in the column.'),
      tone: tone.default('straw'),
    })
    .describe('A bar behind the number, as long as the value is high.'),
  z
    .object({ kind: z.literal('actions'), actions: z.array(actionSchema).min(1) })
    .describe('Buttons that do something with the row.'),
])

export type CellDefinition = z.infer<typeof cellSchema>
export type ActionDefinition = z.infer<typeof actionSchema>
