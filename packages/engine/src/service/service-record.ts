import type { RowRecord } from '../question/records.ts'
import type { Value } from '../table/column.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { ServiceSchema } from './schema.ts'
import type { Json } from './values.ts'
import { valueIn } from './values.ts'

/** A row of the service as a plain object of its fields; tags as a list of texts. */
export function recordOf({ properties }: Pick<ServiceSchema, 'properties'>, record: Json): RowRecord {
  const told: Record<string, Value | readonly string[]> = {}
  for (const property of properties) {
    const value = valueIn(record, property)
    const { key, type } = property.field
    told[key] = type === 'tags' && value !== null ? tagsOf(String(value)) : value
  }
  return told
}
