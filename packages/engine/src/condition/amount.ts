import type { Field } from '../table/column.ts'
import { compareDigits, digitsOfDouble, plainNumber } from '../table/digits.ts'
import { daysOf, daysToMoments, momentsOf, timesOf } from './calendar-span.ts'
import type { Amount, AskedOf, Bound, Span } from './kinds/kind.ts'

/** Less than 0 where the first bound is the smaller one. */
export function compareBounds(a: Bound, b: Bound): number {
  const digits = (bound: Bound): string | null => plainNumber(String(bound))
  const [one, other] = [digits(a), digits(b)]
  return one === null || other === null ? Number(a) - Number(b) : compareDigits(one, other)
}

/** The smallest and largest number that an amount means in a column; null where the text says none. */
export function spanOf(amount: Amount, { field, clock }: Pick<AskedOf, 'field' | 'clock'>): Span | null {
  if (typeof amount === 'number') return exactSpan(amount, field)
  switch (field.type) {
    case 'integer':
    case 'number':
      return numberSpan(amount, field)
    case 'date':
      return daysOf(amount) ?? dayOfMoment(amount)
    case 'time':
      return timesOf(amount)
    case 'datetime':
      return momentsOf(amount, field.zoned ?? false, clock.zone)
    default:
      return null
  }
}

/** Days as the column keeps them. */
export function spanOfDays(days: { from: number; to: number }, { field, clock }: AskedOf): Span {
  return field.type === 'date' ? days : daysToMoments(days, field.zoned ?? false, clock.zone)
}

function exactSpan(value: number, { wide }: Field): Span {
  const exact = (wide && digitsOfDouble(value)) || value
  return { from: exact, to: exact }
}

/** As programs and people write them. */
const INFINITE = /^([-+\u2212]?)(?:infinity|inf|\u221e)$/i

function numberSpan(text: string, field: Field): Span | null {
  const infinite = INFINITE.exec(text.trim())
  if (infinite) {
    const end = infinite[1] === '' || infinite[1] === '+' ? Infinity : -Infinity
    return { from: end, to: end }
  }
  if (!/^[-+]?(\d+(\.\d*)?|\.\d+)(e[-+]?\d+)?$/i.test(text.trim())) return null
  const digits = field.wide ? plainNumber(text.trim()) : null
  if (digits !== null) return { from: digits, to: digits }
  const value = Number(text)
  return Number.isFinite(value) ? exactSpan(value, field) : null
}

function dayOfMoment(text: string): Span | null {
  const match = /^(\d{4}-\d\d-\d\d)[T ]/.exec(text)
  return match && momentsOf(text, false, undefined) ? daysOf(match[1]) : null
}
