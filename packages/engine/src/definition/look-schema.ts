import * as z from 'zod'
import '../zod.ts'
import { TONES } from './tones.ts'

const colour = z.string().regex(/^#[0-9a-f]{6}$/i, 'A colour is written as "#2f6b4f".')

/** The look that the whole grid has, as far as the page's own custom properties do not say otherwise. */
export const lookSchema = z.object({
  textSize: z.number().min(9).max(24).default(13).describe('Size of the type in CSS px.'),
  stripes: z.boolean().default(false).describe('Whether every other line is shaded.'),
  rules: z
    .enum(['rows', 'both', 'none'])
    .default('rows')
    .describe('Lines between rows, and between columns.'),
  palette: z
    .partialRecord(z.enum(TONES), z.object({ light: colour, dark: colour }))
    .default({})
    .describe('By tone: its colour on light and on dark paper.'),
})

/** A style that rows or cells have where an expression is true. */
export const styleRuleSchema = z.object({
  when: z.string().min(1).describe('An expression; the style holds in rows where it is true.'),
  columns: z
    .array(z.string())
    .default([])
    .describe('The columns whose cells have the style; none: the whole row.'),
  tone: z.enum(TONES).optional().describe('Colours the text.'),
  shaded: z.boolean().default(false).describe('Shades the ground with the tone.'),
  bold: z.boolean().default(false),
  italic: z.boolean().default(false),
  struck: z.boolean().default(false).describe('Whether a line goes through the text.'),
})

/** How high the grid is. */
export const fitSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('fill') }).describe('All the height that its place has.'),
  z
    .object({ kind: z.literal('fixed'), height: z.number().min(120).max(4000) })
    .describe('A height in CSS px.'),
  z
    .object({ kind: z.literal('rows'), most: z.number().min(120).max(4000).default(600) })
    .describe('As high as its rows, up to a limit in CSS px.'),
])

/** Pages in place of one long body. */
export const pagesSchema = z.object({
  size: z.int().min(1).max(10_000).default(50).describe('Lines on a page.'),
  sizes: z
    .array(z.int().min(1).max(10_000))
    .default([20, 50, 100])
    .describe('Sizes that readers choose from; none hides the choice.'),
})

export type StyleRule = z.infer<typeof styleRuleSchema>
export type Look = z.infer<typeof lookSchema>
export type Fit = z.infer<typeof fitSchema>
