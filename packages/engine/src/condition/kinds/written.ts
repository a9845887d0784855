import { fieldReference } from '../../expression/field-reference.ts'
import { fold } from '../../search/fold.ts'
import { isoClock, isoDay, isoTime } from '../../table/calendar.ts'
import type { Field } from '../../table/column.ts'
import { isToldByDouble } from '../../table/digits.ts'
import { spanOf } from '../amount.ts'
import { ANY_CLOCK } from '../clock.ts'
import type { Amount, Bound } from './kind.ts'

/** A field's name within an expression. */
export const nameOf = ({ key }: Field): string => fieldReference(key)

/** A text field, and a text to compare it with: folded, or as the data holds it. */
export function compared(field: Field, exact: boolean | undefined) {
  const name = nameOf(field)
  return {
    name: exact ? name : `fold(${name})`,
    text: (given: string): string => JSON.stringify(exact ? given : fold(given)),
  }
}

/** The expression where the field is present and something is not so; null stays null. */
export const presentAndNot = (field: Field, inside: string | null): string | null =>
  inside && `has(${nameOf(field)}) && !(${inside})`

/** From an amount up to an amount, both ends included; null where no expression says it. */
export function between(
  from: Amount | boolean | undefined,
  to: Amount | boolean | undefined,
  field: Field,
): string | null {
  if (typeof from === 'boolean' || typeof to === 'boolean') return null
  const name = nameOf(field)
  const low = from === undefined ? null : spanOf(from, { field, clock: ANY_CLOCK })
  const high = to === undefined ? null : spanOf(to, { field, clock: ANY_CLOCK })
  if ((from !== undefined && !low) || (to !== undefined && !high)) return null
  // Instants hang on the zone that is meant; an expression says them in UTC.
  if (field.zoned && [from, to].some(end => typeof end === 'string' && !/Z$/.test(end))) return null
  const least = low && literal(low.from, field)
  const most = high && literal(high.to, field)
  if (least && most && least === most) return `${name} == ${least}`
  const sides = [least && `${name} >= ${least}`, most && `${name} <= ${most}`]
  return sides.filter(Boolean).join(' && ')
}

/** A number of a field as an expression writes it; null where it cannot. */
export function literal(value: Bound, field: Field): string | null {
  // An expression has only the nearest double.
  if (typeof value === 'string' && !isToldByDouble(value)) return null
  const number = Number(value)
  switch (field.type) {
    case 'date':
      return `date("${isoDay(number)}")`
    case 'time':
      return `time("${isoClock(number)}")`
    case 'datetime':
      return `timestamp("${isoTime(number).replace(' ', 'T')}${field.zoned ? 'Z' : ''}")`
    default:
      return Number.isFinite(number) ? String(number) : null
  }
}
