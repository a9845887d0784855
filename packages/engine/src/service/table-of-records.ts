import { ValueColumn } from '../read/columns/value-column.ts'
import { emptyBits, setBit } from '../table/bits.ts'
import { isDigitColumn, type Column, type Field, type Table, type Value } from '../table/column.ts'
import { TextBuilder } from '../table/text-builder.ts'
import { columnsOf, type Columns } from './columns.ts'
import type { Property } from './schema.ts'
import type { Json } from './values.ts'

/** Rows of a service as a table of the page's own, with the types that the service says. */
export const tableOfRecords = (properties: readonly Property[], records: readonly Json[]): Table =>
  tableOfColumns(properties, columnsOf(records, properties))

export function tableOfColumns(properties: readonly Property[], { rows, values }: Columns): Table {
  const made = properties.map(({ field }, place) => columnOf(field, values[place]))
  return { rows, fields: made.map(({ field }) => field), columns: made.map(({ column }) => column) }
}

interface Made {
  readonly field: Field
  readonly column: Column
}

function columnOf(field: Field, values: readonly Value[]): Made {
  if (field.type === 'text' || field.type === 'tags') {
    const texts = new TextBuilder()
    for (const value of values)
      if (value === null) texts.addMissing()
      else texts.addText(String(value))
    return { field, column: texts.finish() }
  }
  const exact = values.some(value => typeof value === 'string') ? exactColumn(field, values) : null
  if (exact) return exact
  const missing = values.includes(null) ? bitsWhere(values, value => value === null) : null
  if (field.type === 'boolean')
    return { field, column: { kind: 'boolean', missing, values: bitsWhere(values, value => value === true) } }
  const numbers = Float64Array.from(values, value => (value === null ? 0 : Number(value)))
  return { field, column: { kind: 'number', missing, values: numbers } }
}

/** Numbers some of which no double tells; null: an infinity is among them, which has no digits. */
function exactColumn(field: Field, values: readonly Value[]): Made | null {
  const numbers = new ValueColumn()
  for (const value of values)
    if (value === null) numbers.addMissing()
    else if (typeof value === 'number') numbers.addDouble(value)
    else if (/^-?\d+$/.test(String(value))) numbers.addBig(BigInt(value))
    else numbers.addDigits(String(value))
  const { field: found, column } = numbers.finish(field.key)
  return column.kind === 'wide' || isDigitColumn(column)
    ? { field: { ...field, wide: found.wide }, column }
    : null
}

function bitsWhere(values: readonly Value[], holds: (value: Value) => boolean): Uint32Array {
  const bits = emptyBits(values.length)
  for (const [row, value] of values.entries()) if (holds(value)) setBit(bits, row)
  return bits
}
