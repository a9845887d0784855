import { hasBit, type Bits } from './bits.ts'
import { textAt, type TextBlock } from './text-block.ts'

/** `date` counts days since 1970-01-01; `datetime` counts milliseconds, an instant or wall time as its field says. */
export type FieldType = 'text' | 'integer' | 'number' | 'boolean' | 'date' | 'datetime'

export type Value = string | number | boolean | null

export interface Field {
  /** The field's name in the data; unique in the table. */
  readonly key: string
  readonly type: FieldType
  /** Most digits after the point that any value of the data was written with. */
  readonly decimals?: number
  /** For `datetime`: values carried an offset (instants) or not (wall time). */
  readonly zoned?: boolean
}

interface AnyColumn {
  /** Rows without a value; null: every row has one. */
  readonly missing: Bits | null
}

export interface NumberColumn extends AnyColumn {
  readonly kind: 'number'
  /** One value a row; 0 where missing. Never NaN. */
  readonly values: Float64Array | Int32Array
}

export interface BooleanColumn extends AnyColumn {
  readonly kind: 'boolean'
  readonly values: Bits
}

/** Text whose values recur: each row holds the number of its value in `texts`. Distinct texts stand once. */
export interface CodedColumn extends AnyColumn {
  readonly kind: 'coded'
  readonly codes: Uint32Array
  readonly texts: TextBlock
}

/** Text where nearly every value is different: one text a row, empty where missing. */
export interface PlainColumn extends AnyColumn {
  readonly kind: 'plain'
  readonly texts: TextBlock
}

export type Column = NumberColumn | BooleanColumn | CodedColumn | PlainColumn

/** Immutable columns of equal length, in the fields' order. */
export interface Table {
  readonly rows: number
  readonly fields: readonly Field[]
  readonly columns: readonly Column[]
}

export function isMissing(column: Column, row: number): boolean {
  return column.missing !== null && hasBit(column.missing, row)
}

/** The value of one row; null where missing. Dates and times as the numbers they are kept as. */
export function valueAt(column: Column, row: number): Value {
  if (isMissing(column, row)) return null
  switch (column.kind) {
    case 'number':
      return column.values[row]
    case 'boolean':
      return hasBit(column.values, row)
    case 'coded':
      return textAt(column.texts, column.codes[row])
    case 'plain':
      return textAt(column.texts, row)
  }
}

/** Every typed array of a column; what a transfer or a count of bytes must visit. */
export function arraysOf(column: Column): readonly (Uint8Array | Uint32Array | Int32Array | Float64Array)[] {
  const own =
    column.kind === 'coded'
      ? [column.codes, column.texts.bytes, column.texts.offsets]
      : column.kind === 'plain'
        ? [column.texts.bytes, column.texts.offsets]
        : [column.values]
  return column.missing ? [...own, column.missing] : own
}

export function bytesOf(table: Table): number {
  let bytes = 0
  for (const column of table.columns) for (const array of arraysOf(column)) bytes += array.byteLength
  return bytes
}
