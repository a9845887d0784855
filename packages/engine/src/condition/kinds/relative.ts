import * as z from 'zod/mini'
import '../../zod.ts'
import { spanOfDays } from '../amount.ts'
import { unitDays } from '../calendar-span.ts'
import { CALENDAR_UNITS, conditionKind } from './kind.ts'

/**
 * A calendar unit as it is when asked: this week, the last month; with a count, so many of them of which the present
 * one is the last or the first. Weeks begin on Monday.
 */
export const relative = conditionKind({
  name: 'relative',
  help: '`which` (`this`, `last`, `next`) `unit` (`day`, `week`, `month`, `quarter`, `year`), or `count` of them.',
  schema: z
    .object({
      kind: z.literal('relative'),
      which: z.enum(['this', 'last', 'next']),
      unit: z.enum(CALENDAR_UNITS),
      count: z.optional(z.int().check(z.minimum(1), z.maximum(10_000))),
    })
    .check(z.refine(part => part.which !== 'this' || part.count === undefined, '“this” takes no count.')),
  types: ['date', 'datetime'],
  ask: ({ which, unit, count }, of) => ({
    by: 'spans',
    spans: [spanOfDays(unitDays(of.clock, which, unit, count), of)],
  }),
  summary: ({ which, unit, count }, _show, words) => words.relative(which, unit, count ?? 0),
})
