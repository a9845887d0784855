import type { ValueType } from '../language/expression.ts'
import type { Changes } from './changes.ts'

/** A column of a table as readers are told of it. */
export interface Property {
  /** Its name in questions; the same as the column's. */
  readonly name: string
  readonly type: ValueType
  /** The primitive type of OData, without its namespace: `Int64`, `Decimal`, `Date`. */
  readonly edm: string
  readonly nullable: boolean
  /** Of decimals: digits in all and behind the point. */
  readonly precision?: number
  readonly scale?: number
  /** Of moments: they are kept without a zone, so that what is written as UTC is wall time. */
  readonly wall?: boolean
  /** Of texts: the engine orders it as it stands by the collation. */
  readonly ranked?: boolean
  /** Of texts: the engine knows all that may occur, and they are few. */
  readonly few?: boolean
  /** Of texts: the engine keeps it as another type, and must be told to read it as a text. */
  readonly asText?: boolean
  /** It cannot be written: no text says what the engine keeps. */
  readonly told?: boolean
}

/** A table, or a view, that is served. */
export interface ServedTable {
  /** Its name in addresses. */
  readonly name: string
  /** Its name in the engine, by parts: schema and table, or the table alone. */
  readonly source: readonly string[]
  /** The properties that name a row; every order ends in them. */
  readonly key: readonly string[]
  readonly properties: readonly Property[]
  /** Columns that no cell can show. */
  readonly leftOut: readonly string[]
  /** Of a table that is kept on several servers: its parts, by their names in the engine. */
  readonly parts: readonly (readonly string[])[]
  readonly change: Changes
}

export const propertyOf = (table: ServedTable, name: string): Property | undefined =>
  table.properties.find(property => property.name === name)
