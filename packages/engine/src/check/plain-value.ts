import { isoClock, isoDay, isoTime } from '../table/calendar.ts'
import type { Field, Value } from '../table/column.ts'
import { tagsOf } from '../table/shown-text.ts'
import { readTyped } from './read-typed.ts'

/** What documents and hosts hold of a cell. */
export type PlainValue = string | number | boolean | null | string[]

/** A value as a document holds it: days, times and moments as ISO 8601 writes them, tags as a list. */
export function plainValue(value: Value, { type, zoned }: Field): PlainValue {
  if (value === null) return null
  switch (type) {
    case 'date':
      return isoDay(Number(value))
    case 'time':
      return isoClock(Number(value))
    case 'datetime':
      return isoTime(Number(value)).replace(' ', 'T') + (zoned ? 'Z' : '')
    case 'tags':
      return [...tagsOf(String(value))]
    default:
      return value
  }
}

/** A value of a document, or of a host, as the column keeps it; undefined: it says none of its type. */
export function valueFromPlain(plain: unknown, field: Field): Value | undefined {
  if (plain === null || plain === undefined) return null
  if (Array.isArray(plain)) {
    const tags = plain.map(String).filter(Boolean)
    return field.type === 'tags' ? (tags.length > 0 ? JSON.stringify(tags) : null) : undefined
  }
  if (plain instanceof Date) return valueFromPlain(plain.toISOString(), field)
  if (typeof plain === 'boolean')
    return field.type === 'boolean' ? plain : valueFromPlain(String(plain), field)
  if (typeof plain !== 'string' && typeof plain !== 'number') return undefined
  const read = readTyped(String(plain), field, {})
  return read.ok ? read.value : undefined
}
