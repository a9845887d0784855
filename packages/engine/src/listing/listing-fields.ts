import type { Field, FieldType } from '../table/column.ts'
import type { Property } from '../service/schema.ts'
import type { Json } from '../service/values.ts'
import { isRecord } from '../work/checked.ts'

const DAY = /^\d{4}-\d\d-\d\d$/
const CLOCK = /^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?$/
const MOMENT = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[-+]\d\d:?\d\d)?$/
const ZONED = /(Z|[-+]\d\d:?\d\d)$/
/** Structures within structures that become fields. */
const MOST_DEPTH = 4

/**
 * The fields of rows as a service lists them: structures by their path, lists of texts as tags, and texts as days, times
 * and moments where all of them are written as ISO 8601 has it. What is given of a field holds.
 */
export function fieldsOf(records: readonly Json[], given: readonly Field[] = []): Property[] {
  const values = new Map<string, unknown[]>()
  const note = (path: string, value: unknown, depth: number): void => {
    if (isRecord(value) && !Array.isArray(value) && depth < MOST_DEPTH) {
      for (const [name, inner] of Object.entries(value))
        note(path === '' ? name : `${path}/${name}`, inner, depth + 1)
      return
    }
    const known = values.get(path)
    if (known) known.push(value)
    else values.set(path, [value])
  }
  for (const record of records) note('', record, -1)
  const named = new Map(given.map(field => [field.key, field]))
  const paths = [...new Set([...values.keys(), ...named.keys()])]
  return paths.map(path => {
    const field = named.get(path) ?? fieldFor(path, values.get(path) ?? [])
    return { path, edm: '', field }
  })
}

function fieldFor(key: string, all: readonly unknown[]): Field {
  const values = all.filter(value => value !== null && value !== undefined && value !== '')
  const every = (test: (value: unknown) => boolean): boolean => values.length > 0 && values.every(test)
  const written = (pattern: RegExp): boolean =>
    every(value => typeof value === 'string' && pattern.test(value))
  if (written(MOMENT))
    return { key, type: 'datetime', zoned: values.every(value => ZONED.test(String(value))) }
  return { key, type: plainType(every, written) }
}

function plainType(
  every: (test: (value: unknown) => boolean) => boolean,
  written: (pattern: RegExp) => boolean,
): FieldType {
  if (every(value => typeof value === 'boolean')) return 'boolean'
  if (every(value => Number.isSafeInteger(value))) return 'integer'
  if (every(value => typeof value === 'number')) return 'number'
  if (every(value => Array.isArray(value) && value.every(one => typeof one === 'string'))) return 'tags'
  if (written(DAY)) return 'date'
  return written(CLOCK) ? 'time' : 'text'
}

/** Whether a value can be one of a field; null can be one of any. */
export function isOfField(value: unknown, { type }: Field): boolean {
  if (value === null || value === undefined || value === '') return true
  switch (type) {
    case 'integer':
    case 'number':
      return typeof value === 'number' || (typeof value === 'string' && Number.isFinite(Number(value)))
    case 'boolean':
      return typeof value === 'boolean' || value === 'true' || value === 'false'
    case 'date':
      return typeof value === 'string' && DAY.test(value) && !Number.isNaN(Date.parse(value))
    case 'time':
      return typeof value === 'string' && CLOCK.test(value)
    case 'datetime':
      return typeof value === 'string' && !Number.isNaN(Date.parse(value))
    case 'tags':
      return Array.isArray(value)
    default:
      return true
  }
}

/** A moment without a zone is wall time, which is kept as if it were in UTC. */
export const asWall = (value: unknown, { type, zoned }: Field): unknown =>
  type === 'datetime' && !zoned && typeof value === 'string' && !ZONED.test(value)
    ? `${value.replace(' ', 'T')}Z`
    : value
