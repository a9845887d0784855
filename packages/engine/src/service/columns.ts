import type { Value } from '../table/column.ts'
import type { Property } from './schema.ts'
import { valueIn, type Json } from './values.ts'

/** Rows column by column. */
export interface Columns {
  readonly rows: number
  /** By property, one a row. */
  readonly values: readonly (readonly Value[])[]
}

export const columnsOf = (records: readonly Json[], properties: readonly Property[]): Columns => ({
  rows: records.length,
  values: properties.map(property => records.map(record => valueIn(record, property))),
})

/** Rows of several parts, one after another. */
export const joinedColumns = (properties: readonly Property[], parts: readonly Columns[]): Columns => ({
  rows: parts.reduce((sum, { rows }) => sum + rows, 0),
  values: properties.map((_, place) => parts.flatMap(({ values }) => values[place])),
})
