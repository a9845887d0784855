import type { Field } from '../table/column.ts'
import { daysOf, daysToMoments, momentsOf, timesOf } from './calendar-span.ts'
import type { Amount, AskedOf, Span } from './kinds/kind.ts'

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
  const exact = wide && Number.isInteger(value) ? BigInt(value) : value
  return { from: exact, to: exact }
}

function numberSpan(text: string, field: Field): Span | null {
  if (!/^[-+]?(\d+(\.\d*)?|\.\d+)(e[-+]?\d+)?$/i.test(text.trim())) return null
  if (field.wide && /^[-+]?\d+$/.test(text.trim())) {
    const value = BigInt(text.trim().replace('+', ''))
    return { from: value, to: value }
  }
  const value = Number(text)
  return Number.isFinite(value) ? exactSpan(value, field) : null
}

function dayOfMoment(text: string): Span | null {
  const match = /^(\d{4}-\d\d-\d\d)[T ]/.exec(text)
  return match && momentsOf(text, false, undefined) ? daysOf(match[1]) : null
}
