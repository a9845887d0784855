import type { KeyValue } from '../key/key-value.ts'
import type { Value } from '../table/column.ts'
import { asRowId, type RowId } from '../table/row-id.ts'
import { sure } from '../work/checked.ts'
import { oneOf } from './condition-filter.ts'
import type { Capabilities, Property, ServiceSchema } from './schema.ts'
import { literal, valueIn } from './values.ts'

interface Named extends Pick<ServiceSchema, 'key' | 'properties'> {
  readonly can?: Pick<Capabilities, 'lists'>
}

/** Rows by what names them in the service: a whole number is its own id, all else is written as JSON. */
export class RowKeys {
  private readonly properties: readonly Property[]
  private readonly can: Pick<Capabilities, 'lists'>

  constructor({ key, properties, can = { lists: true } }: Named) {
    this.can = can
    this.properties = key.map(name => sure(properties.find(({ path }) => path === name)))
  }

  get names(): readonly string[] {
    return this.properties.map(({ path }) => path)
  }

  /** Whether rows are named by one whole number each. */
  get isByNumber(): boolean {
    return this.properties.length === 1 && this.properties[0].field.type === 'integer'
  }

  idOf(record: Readonly<Record<string, unknown>>): RowId {
    return this.idFor(this.properties.map(property => valueIn(record, property)))
  }

  private idFor(parts: readonly Value[]): RowId {
    const [first] = parts
    return parts.length === 1 && typeof first === 'number' && Number.isSafeInteger(first) && first >= 0
      ? asRowId(first)
      : asRowId(JSON.stringify(parts))
  }

  /** The id of a key as a page says it; null: no key of this service can be so. */
  idOfKey(key: KeyValue): RowId | null {
    const parts = Array.isArray(key) ? key : [key]
    return parts.length === this.properties.length && !parts.includes(null)
      ? this.idFor(parts as Value[])
      : null
  }

  partsOf(id: RowId): readonly NonNullable<Value>[] {
    return typeof id === 'number' ? [id] : (JSON.parse(String(id)) as NonNullable<Value>[])
  }

  keyOf(id: RowId): KeyValue {
    const parts = this.partsOf(id)
    return parts.length === 1 ? parts[0] : parts
  }

  /** What names a row in its address. */
  address(id: RowId): string {
    const literals = this.properties.map((property, i) => literal(property, this.partsOf(id)[i]))
    return literals.length === 1
      ? literals[0]
      : this.properties.map(({ path }, i) => `${path}=${literals[i]}`).join(',')
  }

  /** A filter that only these rows meet. */
  filter(rows: readonly RowId[]): string {
    if (rows.length === 0) return 'false'
    const [single] = this.properties
    if (this.properties.length === 1)
      return oneOf(
        single.path,
        rows.map(row => literal(single, this.partsOf(row)[0])),
        this.can,
      )
    const one = (row: RowId): string =>
      this.properties
        .map((property, i) => `${property.path} eq ${literal(property, this.partsOf(row)[i])}`)
        .join(' and ')
    return `(${rows.map(row => `(${one(row)})`).join(' or ')})`
  }
}
