import * as z from 'zod'
import '../../zod.ts'
import { conditionKind, NUMERIC } from './kind.ts'

/** From a number up to a number, both ends included; an end that is left out is open. */
export const range = conditionKind({
  name: 'range',
  schema: z
    .object({ kind: z.literal('range'), from: z.number().optional(), to: z.number().optional() })
    .refine(part => part.from !== undefined || part.to !== undefined, 'A range needs at least one end.'),
  types: NUMERIC,
  ask: part => ({ by: 'range', from: part.from ?? -Infinity, to: part.to ?? Infinity }),
  phrase: (part, show) => {
    if (part.to === undefined) return `at least ${show(part.from!)}`
    if (part.from === undefined) return `at most ${show(part.to)}`
    return `${show(part.from)} to ${show(part.to)}`
  },
})
