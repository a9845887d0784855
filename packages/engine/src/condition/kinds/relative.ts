import * as z from 'zod/mini'
import '../../zod.ts'
import { spanOfDays } from '../amount.ts'
import { unitDays } from '../calendar-span.ts'
import { CALENDAR_UNITS, conditionKind } from './kind.ts'
import { keysIn, sure } from '../../work/checked.ts'

export const RELATIVES = ['this', 'last', 'next'] as const
/** Days that have a word of their own. */
export const NEAR_DAYS = { today: 'this', yesterday: 'last', tomorrow: 'next' } as const

/**
 * A calendar unit as it is when asked: this week, the last month; with a count, so many of them of which the present
 * one is the last or the first. Weeks begin on Monday.
 */
export const relative = conditionKind({
  name: 'relative',
  description:
    '`which` (`this`, `last`, `next`) `unit` (`day`, `week`, `month`, `quarter`, `year`), or `count` of them.',
  schema: z
    .object({
      kind: z.literal('relative'),
      which: z.enum(RELATIVES),
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
  phrase: ({ which, unit, count }) => {
    if (unit === 'day' && count === undefined)
      return sure(keysIn(NEAR_DAYS).find(word => NEAR_DAYS[word] === which))
    return count === undefined ? `${which} ${unit}` : `${which} ${count} ${unit}${count === 1 ? '' : 's'}`
  },
  // It hangs on the day it is asked.
  expression: () => null,
})
