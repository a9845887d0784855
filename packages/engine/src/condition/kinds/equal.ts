import * as z from 'zod/mini'
import '../../zod.ts'
import { spanOf } from '../amount.ts'
import type { Field, FieldType } from '../../table/column.ts'
import { conditionKind, type Ask, type AskedOf } from './kind.ts'
import { askText, exactly } from './text.ts'
import { between, compared, nameOf, presentAndNot } from './written.ts'

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

const truth = (yes: boolean, field: Field): string =>
  yes ? nameOf(field) : `has(${nameOf(field)}) && !${nameOf(field)}`

/** The value itself; of dates and times also all that lies in the year, month or minute named. */
export const equals = conditionKind({
  name: 'equals',
  description: 'The value is `value`, or lies within the time that it names.',
  schema: z.extend(valued, { kind: z.literal('equals') }),
  types: EQUATED,
  ask: (part, of) => askEqual(part, of, false),
  summary: (part, show, words) => words.equals(show(part.value)),
  phrase: (part, { value }) => value(part.value),
  expression: ({ value, exact }, field) => {
    if (field.type === 'text') {
      const { name, text } = compared(field, exact)
      return `${name} == ${text(String(value))}`
    }
    return field.type === 'boolean' ? truth(value === true, field) : between(value, value, field)
  },
})

export const differs = conditionKind({
  name: 'differs',
  description: 'There is a value, and it is not `value`.',
  schema: z.extend(valued, { kind: z.literal('differs') }),
  types: EQUATED,
  ask: (part, of) => askEqual(part, of, true),
  summary: (part, show, words) => words.differs(show(part.value)),
  phrase: (part, { field, value }) =>
    field.type === 'boolean' ? value(!part.value) : `not ${value(part.value)}`,
  expression: ({ value, exact }, field) => {
    if (field.type === 'text') {
      const { name, text } = compared(field, exact)
      return `${name} != ${text(String(value))}`
    }
    if (field.type === 'boolean') return truth(value === false, field)
    return presentAndNot(field, between(value, value, field))
  },
})
