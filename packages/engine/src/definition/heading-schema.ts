import * as z from 'zod/mini'
import '../zod.ts'

/** One heading over several columns, which say by `under` that they stand under it. */
export const headingSchema = z.object({
  key: z.string().check(z.minLength(1), z.describe('Names it in the definition; readers never see it.')),
  title: z.string().check(z.describe('What readers see.')),
  under: z.optional(z.string()).check(z.describe('Key of the heading that it stands under itself.')),
  help: z.optional(z.string()).check(z.describe('A sentence about it, shown at the heading.')),
  together: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether its columns stay side by side, wherever readers put them.')),
})

export type HeadingDefinition = z.infer<typeof headingSchema>
