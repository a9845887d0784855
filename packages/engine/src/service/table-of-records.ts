import { emptyBits, setBit } from '../table/bits.ts'
import type { Column, Table, Value } from '../table/column.ts'
import { TextBuilder } from '../table/text-builder.ts'
import type { Property } from './schema.ts'
import type { Json } from './values.ts'
import { valueIn } from './values.ts'

/** Rows of a service as a table of the page's own, with the types that the service says. */
export const tableOfRecords = (properties: readonly Property[], records: readonly Json[]): Table => ({
  rows: records.length,
  fields: properties.map(({ field }) => field),
  columns: properties.map(property =>
    columnOf(
      property,
      records.map(record => valueIn(record, property)),
    ),
  ),
})

function columnOf({ field }: Property, values: readonly Value[]): Column {
  if (field.type === 'text' || field.type === 'tags') {
    const texts = new TextBuilder()
    for (const value of values)
      if (value === null) texts.addMissing()
      else texts.addText(String(value))
    return texts.finish()
  }
  const missing = values.includes(null) ? bitsWhere(values, value => value === null) : null
  if (field.type === 'boolean')
    return { kind: 'boolean', missing, values: bitsWhere(values, value => value === true) }
  return {
    kind: 'number',
    missing,
    values: Float64Array.from(values, value => (value === null ? 0 : Number(value))),
  }
}

function bitsWhere(values: readonly Value[], holds: (value: Value) => boolean): Uint32Array {
  const bits = emptyBits(values.length)
  for (const [row, value] of values.entries()) if (holds(value)) setBit(bits, row)
  return bits
}
