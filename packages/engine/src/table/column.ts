import type { ColumnArray } from './allocate.ts'
import type { Brand } from './brand.ts'
import { hasBit, type Bits } from './bits.ts'
import type { RowIds } from './row-id.ts'
import { textAt, type TextBlock } from './text-block.ts'

/**
 * `date` counts days since 1970-01-01; `time` counts milliseconds of a day; `datetime` counts milliseconds, an instant
 * or wall time as its field says; `tags` are several texts in one cell.
 */
export type FieldType = 'text' | 'integer' | 'number' | 'boolean' | 'date' | 'time' | 'datetime' | 'tags'

/** A column's place in a table. */
export type ColumnIndex = Brand<number, 'ColumnIndex'>
/** The indexes of a table's fields by their keys. */
export const columnIndexesOf = (fields: readonly Field[]): ReadonlyMap<string, ColumnIndex> =>
  new Map(fields.map(({ key }, index) => [key, asColumn(index)]))

export const asColumn = (index: number): ColumnIndex => index as ColumnIndex

/** A cell's value. Numbers of a wide column come as their digits, tags as their JSON text. */
export type Value = string | number | boolean | null

export interface Field {
  /** The field's name in the data; unique in the table. */
  readonly key: string
  readonly type: FieldType
  /** Most digits after the point that any value of the data was written with. */
  readonly decimals?: number
  /** For `datetime`: values carried an offset (instants) or not (wall time). */
  readonly zoned?: boolean
  /** For numbers: doubles would not tell all of them apart, so they are kept exact, see `WideColumn` and `DigitColumn`. */
  readonly wide?: boolean
  /** It is worked out from other fields, and cannot be written to. */
  readonly computed?: boolean
  /** It serves the grid itself: it is neither described nor part of a row's record. */
  readonly internal?: boolean
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

/**
 * Whole numbers that a double cannot hold exactly; their values are given out as texts of digits. The two outermost
 * numbers of 64 bits are never among them, so that their keys stay free for rows without a value.
 */
export interface WideColumn extends AnyColumn {
  readonly kind: 'wide'
  readonly values: BigInt64Array
}

export interface BooleanColumn extends AnyColumn {
  readonly kind: 'boolean'
  readonly values: Bits
}

interface TextColumns extends AnyColumn {
  /** Its texts are numbers in plain digits (`digits.ts`), which no double tells apart: they are ordered and added up as such. */
  readonly digits?: boolean
}

/** Text whose values recur: each row holds the number of its value in `texts`. Distinct texts stand once. */
export interface CodedColumn extends TextColumns {
  readonly kind: 'coded'
  readonly codes: Uint32Array
  readonly texts: TextBlock
}

/** Text where nearly every value is different: one text a row, empty where missing. */
export interface PlainColumn extends TextColumns {
  readonly kind: 'plain'
  readonly texts: TextBlock
}

/** Numbers of any size, kept as their digits. */
export type DigitColumn = (CodedColumn | PlainColumn) & { readonly digits: true }

export const isDigitColumn = (column: Column): column is DigitColumn =>
  (column.kind === 'coded' || column.kind === 'plain') && column.digits === true

export type Column = NumberColumn | WideColumn | BooleanColumn | CodedColumn | PlainColumn

/** Whether a wide column can hold the number. */
export const fitsWide = (value: bigint): boolean => value > -(2n ** 63n) && value < 2n ** 63n - 1n

/** Immutable columns of equal length, in the fields' order. */
export interface Table {
  readonly rows: number
  /** Where rows were taken out: the ids of those that stayed. */
  readonly ids?: RowIds
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
    case 'wide':
      return String(column.values[row])
    case 'boolean':
      return hasBit(column.values, row)
    case 'coded':
      return textAt(column.texts, column.codes[row])
    case 'plain':
      return textAt(column.texts, row)
  }
}

/** The text of a row in a column of texts; empty where it is missing. */
export function textOf(column: Column, row: number): string {
  const value = valueAt(column, row)
  return typeof value === 'string' ? value : ''
}

/** Every typed array of a column; what a transfer or a count of bytes must visit. */
export function arraysOf(column: Column): readonly ColumnArray[] {
  const own =
    column.kind === 'coded'
      ? [column.codes, ...textArrays(column.texts)]
      : column.kind === 'plain'
        ? textArrays(column.texts)
        : [column.values]
  return column.missing ? [...own, column.missing] : own
}

const textArrays = ({ bytes, offsets, changed }: TextBlock): ColumnArray[] => [
  bytes,
  offsets,
  ...(changed ? [changed.rows, ...textArrays(changed.texts)] : []),
]

export const columnBytes = (column: Column): number =>
  arraysOf(column).reduce((bytes, array) => bytes + array.byteLength, 0)

export const bytesOf = (table: Table): number =>
  table.columns.reduce((bytes, column) => bytes + columnBytes(column), 0)
