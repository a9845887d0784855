import { DAY_MS, isoClock, isoDay } from '../table/calendar.ts'
import type { Value } from '../table/column.ts'
import { isRecord } from '../work/checked.ts'
import type { Property } from './schema.ts'

/** An object of an answer. */
export type Json = Readonly<Record<string, unknown>>

/** What is a text or stands for one; empty for anything else. */
export const asText = (given: unknown): string =>
  typeof given === 'string' || typeof given === 'number' || typeof given === 'boolean' ? String(given) : ''

/** A text as the protocol writes it. */
export const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`

/** A value of a property as a question writes it. Dates and times come as the numbers that columns keep. */
export function literal({ field, edm }: Property, value: NonNullable<Value>): string {
  switch (field.type) {
    case 'integer':
    case 'number':
      return numberText(value)
    case 'boolean':
      return String(value)
    case 'date':
      return isoDay(Number(value))
    case 'time':
      return isoClock(Number(value))
    case 'datetime':
      return momentText(Number(value))
    default:
      return edm === 'Guid' ? String(value) : quoted(String(value))
  }
}

const numberText = (value: NonNullable<Value>): string =>
  value === Infinity ? 'INF' : value === -Infinity ? '-INF' : String(value)

const momentText = (ms: number): string =>
  `${isoDay(Math.floor(ms / DAY_MS))}T${isoClock(((ms % DAY_MS) + DAY_MS) % DAY_MS)}Z`

/** What a property of an answer is as a column keeps it. */
export function valueIn(record: Json, property: Property): Value {
  let given: unknown = record
  for (const step of property.path.split('/')) given = isRecord(given) ? given[step] : undefined
  return valueOf(given, property)
}

/** What a value of an answer is as a column keeps it. */
export function valueOf(given: unknown, { field }: Property): Value {
  if (given === undefined || given === null) return null
  switch (field.type) {
    case 'integer':
    case 'number':
      return numberOf(given)
    case 'boolean':
      return given === true || given === 'true'
    case 'date': {
      const ms = Date.parse(`${asText(given)}T00:00:00Z`)
      return Number.isNaN(ms) ? null : ms / DAY_MS
    }
    case 'time': {
      const ms = Date.parse(`1970-01-01T${padded(asText(given))}Z`)
      return Number.isNaN(ms) ? null : ms
    }
    case 'datetime': {
      const ms = Date.parse(asText(given))
      return Number.isNaN(ms) ? null : ms
    }
    case 'tags':
      return Array.isArray(given) && given.length > 0 ? JSON.stringify(given.map(String)) : null
    default:
      return typeof given === 'string' ? given : JSON.stringify(given)
  }
}

const padded = (time: string): string => (time.length === 5 ? `${time}:00` : time)

/** Numbers that no double tells apart come as their digits. */
function numberOf(given: unknown): Value {
  if (typeof given === 'number') return given
  const text = asText(given)
  if (text === 'INF') return Infinity
  if (text === '-INF') return -Infinity
  const value = Number(text)
  if (Number.isNaN(value)) return null
  const exact = /^-?\d+$/.test(text) ? Number.isSafeInteger(value) : text.replace(/\D/g, '').length <= 15
  return exact ? value : text
}
