import * as z from 'zod'
import '../../zod.ts'
import { conditionKind, EVERY } from './kind.ts'

/** One of the listed values, exactly as the data holds them. */
export const oneOf = conditionKind({
  name: 'one-of',
  schema: z.object({
    kind: z.literal('one-of'),
    values: z.array(z.union([z.string(), z.number(), z.boolean()])).min(1),
  }),
  types: EVERY,
  ask: part => ({ by: 'values', values: part.values }),
  phrase: (part, show) => {
    const shown = part.values.slice(0, 3).map(show)
    const more = part.values.length - shown.length
    return shown.join(' or ') + (more > 0 ? ` or ${more} more` : '')
  },
})
