import type { PlainValue } from '../check/plain-value.ts'
import type { Property } from './schema.ts'

/** Types whose numbers no double holds all of. */
const BEYOND_DOUBLES = new Set(['Int64', 'Decimal'])

/** What is to be sent of a row: a body, and the type that it is said to be. */
export interface WrittenRecord {
  readonly body: string
  readonly type: string
}

/** Cells of a row as the protocol writes them; a field within a structure stands within it. */
export function writeRecord(cells: readonly (readonly [Property, PlainValue])[]): WrittenRecord {
  // Digits that no number of JSON keeps are sent as texts, and then all numbers of such types are.
  const exact = cells.some(
    ([{ field }, value]) =>
      (field.type === 'integer' || field.type === 'number') && typeof value === 'string',
  )
  const record: Record<string, unknown> = {}
  for (const [property, value] of cells) {
    const path = property.path.split('/')
    const last = path.pop() ?? ''
    let at = record
    for (const step of path) at = (at[step] ??= {}) as Record<string, unknown>
    at[last] = written(property, value, exact)
  }
  return {
    body: JSON.stringify(record),
    type: `application/json${exact ? ';IEEE754Compatible=true' : ''}`,
  }
}

function written({ field, edm }: Property, value: PlainValue, exact: boolean): unknown {
  if (value === null) return field.type === 'tags' ? [] : null
  switch (field.type) {
    case 'integer':
    case 'number':
      if (value === Infinity) return 'INF'
      if (value === -Infinity) return '-INF'
      return exact && BEYOND_DOUBLES.has(edm) ? String(value) : value
    case 'datetime':
      // Wall time is written as if it were in UTC.
      return String(value).endsWith('Z') ? value : `${String(value)}Z`
    default:
      return value
  }
}
