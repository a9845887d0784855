import type { Field, Value } from '../table/column.ts'
import { textParser } from '../read/types/text-style.ts'

/** What names a row: a value, or one of each key field. */
export type KeyValue = Value | readonly Value[]

/** Whether a key has several parts. */
export const isKeyList = (key: KeyValue): key is readonly Value[] => Array.isArray(key)

export const keyParts = (key: KeyValue): readonly Value[] => (isKeyList(key) ? key : [key])

/**
 * A key's part as its column keeps it: texts that say a number, a day or a truth value are read, so that keys may come
 * from an address or from JSON.
 */
export function keyPart(field: Field, value: Value): Value {
  if (value === null || field.type === 'text') return value === null ? null : String(value)
  if (field.wide) return String(value)
  if (typeof value !== 'string' || field.type === 'tags') return value
  const read = textParser({ type: field.type, zoned: field.zoned })(value.trim())
  if (read === null) return null
  return field.type === 'boolean' ? read === 1 : typeof read === 'bigint' ? String(read) : read
}
