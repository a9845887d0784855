import * as z from 'zod/mini'
import '../../zod.ts'
import { spanOf } from '../amount.ts'
import type { FieldType } from '../../table/column.ts'
import { conditionKind, type Ask, type AskedOf } from './kind.ts'
import { askText, exactly } from './text.ts'

const EQUATED: readonly FieldType[] = ['text', 'boolean', 'integer', 'number', 'date', 'time', 'datetime']
const valued = z.object({ value: z.union([z.string(), z.number(), z.boolean()]), exact: exactly })

function askEqual({ value, exact }: z.infer<typeof valued>, of: AskedOf, none: boolean): Ask {
  const { type } = of.field
  const unreadable: Ask = { by: 'nothing', problem: { code: 'not-readable', text: String(value), type } }
  if (type === 'text') return askText({ text: String(value), exact }, (text, wanted) => text === wanted, none)
  if (type === 'boolean')
    return typeof value === 'boolean' ? { by: 'truth', truths: [value], none } : unreadable
  const span = typeof value === 'boolean' ? null : spanOf(value, of)
  return span ? { by: 'spans', spans: [span], none } : unreadable
}

/** The value itself; of dates and times also all that lies in the year, month or minute named. */
export const equals = conditionKind({
  name: 'equals',
  help: 'The value is `value`, or lies within the time that it names.',
  schema: z.extend(valued, { kind: z.literal('equals') }),
  types: EQUATED,
  ask: (part, of) => askEqual(part, of, false),
  summary: (part, show, words) => words.equals(show(part.value)),
})

export const differs = conditionKind({
  name: 'differs',
  help: 'There is a value, and it is not `value`.',
  schema: z.extend(valued, { kind: z.literal('differs') }),
  types: EQUATED,
  ask: (part, of) => askEqual(part, of, true),
  summary: (part, show, words) => words.differs(show(part.value)),
})
