import * as z from 'zod/mini'
import '../zod.ts'
import type { FieldType } from '../table/column.ts'
import type { ColumnReadOptions, ColumnsReadOptions } from '../read/types/column-reading.ts'
import { widthFor } from './column-width.ts'
import { isNumeric, titleOf } from './plain-column.ts'
import { DEFINITION_VERSION, type DefinitionInput } from './definition.ts'
import { isOneOf, isRecord } from '../work/checked.ts'

/** What a schema of someone else's says of columns: a definition, and the types to read them in. */
export interface FromSchema {
  readonly definition: DefinitionInput
  readonly columns: ColumnsReadOptions
}

export type FromSchemaResult =
  { readonly ok: true; readonly made: FromSchema } | { readonly ok: false; readonly problem: string }

interface Described {
  readonly key: string
  readonly title?: string
  readonly read: ColumnReadOptions
}

/** Columns from a Table Schema (Frictionless) or a JSON Schema of a row, or of a list of rows. */
export function defineFromSchema(json: unknown): FromSchemaResult {
  const table = tableSchema.safeParse(json)
  if (table.success) {
    const { fields, primaryKey = [], title = '' } = table.data
    const key = typeof primaryKey === 'string' ? [primaryKey] : primaryKey
    return { ok: true, made: made(title, key, fields.map(describeField)) }
  }
  const row = rowSchema(json)
  if (!row)
    return {
      ok: false,
      problem:
        'This is neither a Table Schema (an object with "fields") nor a JSON Schema of a row (an object with "properties", or a list of such).',
    }
  const { properties, title = '' } = row
  return { ok: true, made: made(title, [], [...describeProperties(properties, '')]) }
}

function made(title: string, key: readonly string[], fields: readonly Described[]): FromSchema {
  const columns = fields.map(({ key, title, read }) => ({
    key,
    title: title ?? titleOf(key),
    width: widthFor([
      `${title ?? titleOf(key)}   `,
      read.type === 'datetime' ? '2024-06-14 09:30:00' : '0000000000',
    ]),
    align: isNumeric(read.type ?? 'text') ? ('end' as const) : ('start' as const),
  }))
  return {
    definition: { format: 'vast-meadow-grid', version: DEFINITION_VERSION, title, key: [...key], columns },
    columns: Object.fromEntries(fields.filter(({ read }) => read.type).map(({ key, read }) => [key, read])),
  }
}

const tableField = z.object({
  name: z.string().check(z.minLength(1)),
  title: z.optional(z.string()),
  type: z.optional(z.string()),
  format: z.optional(z.string()),
  decimalChar: z.optional(z.string()),
  groupChar: z.optional(z.string()),
})

const tableSchema = z.object({
  fields: z.array(tableField).check(z.minLength(1)),
  primaryKey: z.optional(z.union([z.string(), z.array(z.string())])),
  title: z.optional(z.string()),
})

const TABLE_TYPES: Readonly<Record<string, FieldType>> = {
  string: 'text',
  number: 'number',
  integer: 'integer',
  boolean: 'boolean',
  date: 'date',
  time: 'time',
  datetime: 'datetime',
  year: 'integer',
  list: 'tags',
}

function describeField({
  name,
  title,
  type = '',
  decimalChar,
  groupChar,
}: z.infer<typeof tableField>): Described {
  return {
    key: name,
    title,
    read: {
      type: TABLE_TYPES[type],
      ...(decimalChar === ',' ? { decimal: ',' as const } : {}),
      ...(isOneOf(['.', ',', ' ', "'"] as const, groupChar) ? { thousands: groupChar } : {}),
    },
  }
}

interface Property {
  readonly type?: string | readonly string[]
  readonly title?: string
  readonly format?: string
  readonly properties?: Readonly<Record<string, Property>>
  readonly items?: Property
}

function rowSchema(json: unknown): { properties: Readonly<Record<string, Property>>; title?: string } | null {
  const schema: Property | null = isRecord(json) ? json : null
  if (!schema) return null
  const row = schema.properties ? schema : schema.items
  if (!row?.properties || Object.keys(row.properties).length === 0) return null
  return { properties: row.properties, title: schema.title }
}

function* describeProperties(
  properties: Readonly<Record<string, Property>>,
  path: string,
): Iterable<Described> {
  for (const [name, property] of Object.entries(properties)) {
    const key = path ? `${path}.${name}` : name
    const type =
      typeof property.type === 'string' ? property.type : property.type?.find(one => one !== 'null')
    if (property.properties) yield* describeProperties(property.properties, key)
    else yield { key, title: property.title, read: readAs(type, property) }
  }
}

function readAs(type: string | undefined, { format, items }: Property): ColumnReadOptions {
  switch (type) {
    case 'integer':
    case 'number':
    case 'boolean':
      return { type }
    case 'array':
      return items?.type === 'string' ? { type: 'tags' } : {}
    case 'string':
      if (format === 'date' || format === 'time') return { type: format }
      return format === 'date-time' ? { type: 'datetime', zoned: true } : { type: 'text' }
    default:
      return {}
  }
}
