import * as z from 'zod/mini'
import '../zod.ts'
import { TONES } from './tones.ts'

const colour = z.string().check(z.regex(/^#[0-9a-f]{6}$/i, 'A colour is written as "#2f6b4f".'))

/** The look that the whole grid has, as far as the page's own custom properties do not say otherwise. */
export const lookSchema = z.object({
  textSize: z
    ._default(z.number().check(z.minimum(9), z.maximum(24)), 13)
    .check(z.describe('Size of the type in CSS px.')),
  stripes: z._default(z.boolean(), false).check(z.describe('Whether every other line is shaded.')),
  rules: z
    ._default(z.enum(['rows', 'both', 'none']), 'rows')
    .check(z.describe('Lines between rows, and between columns.')),
  palette: z
    ._default(z.partialRecord(z.enum(TONES), z.object({ light: colour, dark: colour })), {})
    .check(z.describe('By tone: its colour on light and on dark paper.')),
})

/** A style that rows or cells have where an expression is true. */
export const styleRuleSchema = z.object({
  when: z
    .string()
    .check(z.minLength(1), z.describe('An expression; the style holds in rows where it is true.')),
  columns: z
    ._default(z.array(z.string()), [])
    .check(z.describe('The columns whose cells have the style; none: the whole row.')),
  tone: z.optional(z.enum(TONES)).check(z.describe('Colours the text.')),
  shaded: z._default(z.boolean(), false).check(z.describe('Shades the ground with the tone.')),
  bold: z._default(z.boolean(), false),
  italic: z._default(z.boolean(), false),
  struck: z._default(z.boolean(), false).check(z.describe('Whether a line goes through the text.')),
})

/** How high the grid is. */
export const fitSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('fill') }).check(z.describe('All the height that its place has.')),
  z
    .object({ kind: z.literal('fixed'), height: z.number().check(z.minimum(120), z.maximum(4000)) })
    .check(z.describe('A height in CSS px.')),
  z
    .object({
      kind: z.literal('rows'),
      most: z._default(z.number().check(z.minimum(120), z.maximum(4000)), 600),
    })
    .check(z.describe('As high as its rows, up to a limit in CSS px.')),
])

/** Pages in place of one long body. */
export const pagesSchema = z.object({
  size: z._default(z.int().check(z.minimum(1), z.maximum(10_000)), 50).check(z.describe('Lines on a page.')),
  sizes: z
    ._default(z.array(z.int().check(z.minimum(1), z.maximum(10_000))), [20, 50, 100])
    .check(z.describe('Sizes that readers choose from; none hides the choice.')),
})

export type StyleRule = z.infer<typeof styleRuleSchema>
export type Look = z.infer<typeof lookSchema>
export type Fit = z.infer<typeof fitSchema>
