import type { Field, FieldType } from '../table/column.ts'

/** Rows as Apache Arrow lays them, column by column. */
export const ARROW_STREAM = 'application/vnd.apache.arrow.stream'

/** A property of the service's rows, and the field that it becomes. */
export interface Property {
  readonly field: Field
  /** Its name in questions: a path where it lies within a structure. */
  readonly path: string
  /** Without namespace: `Int64`, `Guid`. */
  readonly edm: string
}

/** What can be asked of an entity set, as its metadata say. */
export interface Capabilities {
  readonly search: boolean
  readonly count: boolean
  readonly filter: boolean
  readonly order: boolean
  /** It knows what came with version 4.01: `in`, among others. */
  readonly lists: boolean
  /** Rows come as Arrow streams, too. */
  readonly arrow: boolean
  /** Several requests may come as one, written as JSON. */
  readonly batches: boolean
  /** Functions that may stand in a filter. */
  readonly functions: ReadonlySet<string>
  /** Transformations that `$apply` may hold; empty: it is not offered. */
  readonly apply: ReadonlySet<string>
  readonly methods: ReadonlySet<string>
  readonly insert: boolean
  readonly remove: boolean
  /** Properties that may not be changed, by their paths; null: none may. */
  readonly fixed: ReadonlySet<string> | null
}

export interface ServiceSchema {
  /** The entity set's name in addresses. */
  readonly rows: string
  readonly properties: readonly Property[]
  /** Names of the properties that name a row. */
  readonly key: readonly string[]
  readonly can: Capabilities
  /** Where its changes are told, behind its address; null: nowhere. */
  readonly events: string | null
  /** Names of properties that no field can show. */
  readonly leftOut: readonly string[]
}

/** Names that are asked for so that all properties come, those within structures too. */
export const rootsOf = ({ properties }: Pick<ServiceSchema, 'properties'>): string[] => [
  ...new Set(properties.map(({ path }) => path.split('/')[0])),
]

const TYPES: Readonly<Partial<Record<string, FieldType>>> = {
  String: 'text',
  Guid: 'text',
  Duration: 'text',
  Boolean: 'boolean',
  Byte: 'integer',
  SByte: 'integer',
  Int16: 'integer',
  Int32: 'integer',
  Int64: 'integer',
  Single: 'number',
  Double: 'number',
  Decimal: 'number',
  Date: 'date',
  TimeOfDay: 'time',
  DateTimeOffset: 'datetime',
}

export interface PropertyFacts {
  readonly path: string
  /** With its namespace: `Edm.Int64`. */
  readonly type: string
  readonly several: boolean
  readonly scale?: number
  readonly wall?: boolean
}

/** The field of a property; null: nothing that a cell can show. */
export function propertyFor({ path, type, several, scale, wall }: PropertyFacts): Property | null {
  const edm = type.replace(/^Edm\./, '')
  if (several) return edm === 'String' ? { path, edm, field: { key: path, type: 'tags' } } : null
  const known = Object.hasOwn(TYPES, edm) ? TYPES[edm] : undefined
  if (!known) return null
  const whole = edm === 'Decimal' && scale === 0
  const field: Field = {
    key: path,
    type: whole ? 'integer' : known,
    ...(edm === 'Decimal' && !whole && scale !== undefined ? { decimals: scale } : {}),
    ...(known === 'datetime' ? { zoned: !wall } : {}),
  }
  return { path, edm, field }
}
