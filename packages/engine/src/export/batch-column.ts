import { DAY_MS } from '../table/calendar.ts'
import {
  isDigitColumn,
  isMissing,
  valueAt,
  type DigitColumn,
  type Field,
  type Value,
} from '../table/column.ts'
import { decimalsOfDigits, unitsOfDigits } from '../table/digits.ts'
import { textAt, textCount, type TextBlock } from '../table/text-block.ts'
import { hasBit } from '../table/bits.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { WrittenColumn, WrittenLines } from './written-column.ts'

/**
 * `decimal`: whole units of the last of `scale` decimals; `day`: days since 1970; `clock`: milliseconds of a day; `moment`
 * and `instant`: milliseconds since 1970, wall time or UTC.
 */
export type BatchType =
  | 'text'
  | 'int32'
  | 'int64'
  | 'decimal'
  | 'double'
  | 'boolean'
  | 'day'
  | 'clock'
  | 'moment'
  | 'instant'
  | 'texts'

export interface BatchField {
  readonly name: string
  readonly type: BatchType
  /** Of decimals: how many digits there are in all, and behind the point. */
  readonly precision?: number
  readonly scale?: number
}

/** A column of some rows: a value a row, null where it has none. Numbers of `int64` and `decimal` are big ones. */
export interface BatchColumn extends BatchField {
  readonly values: readonly (string | number | bigint | boolean | readonly string[] | null)[]
}

/** What a column is called and holds. `shown`: what it shows, as texts. */
export function batchField({ field, column }: WrittenColumn, shown: boolean): BatchField {
  const name = field.key
  if (shown) return { name, type: 'text' }
  const decimal = column.kind !== 'part' && isDigitColumn(column) ? decimalOf(column) : null
  return decimal ? { name, type: 'decimal', ...decimal } : { name, type: typeOf(field, column) }
}

interface Decimal {
  readonly precision: number
  readonly scale: number
}

/** Digits that a decimal of 128 bits has room for. */
const MOST_DIGITS = 38
/** By its texts: the decimal that a column of digits is; null: none has so many digits. */
const decimals = new WeakMap<TextBlock, Decimal | null>()

function decimalOf({ texts }: DigitColumn): Decimal | null {
  const known = decimals.get(texts)
  if (known !== undefined) return known
  let scale = 0
  let whole = 0
  for (let i = 0; i < textCount(texts); i++) {
    const digits = textAt(texts, i)
    const decimals = decimalsOfDigits(digits)
    const length = digits.length - (digits.startsWith('-') ? 1 : 0)
    scale = Math.max(scale, decimals)
    whole = Math.max(whole, decimals > 0 ? length - decimals - 1 : length)
  }
  const precision = Math.max(1, whole + scale)
  const decimal = precision <= MOST_DIGITS ? { precision, scale } : null
  decimals.set(texts, decimal)
  return decimal
}

function typeOf({ type, zoned, wide }: Field, column: WrittenColumn['column']): BatchType {
  switch (type) {
    case 'integer':
      // What is worked out of whole numbers may be beyond all of them.
      if (column.kind === 'part') return 'double'
      if (isDigitColumn(column)) return 'text'
      if (wide || column.kind !== 'number') return 'int64'
      return column.values instanceof Int32Array ? 'int32' : isExact(column.values) ? 'int64' : 'double'
    case 'number':
      return column.kind !== 'part' && isDigitColumn(column) ? 'text' : 'double'
    case 'boolean':
      return 'boolean'
    case 'date':
      return 'day'
    case 'time':
      return 'clock'
    case 'datetime':
      return zoned ? 'instant' : 'moment'
    case 'tags':
      return 'texts'
    case 'text':
      return 'text'
  }
}

/** Whole numbers beyond this are rounded to what a double holds, and some of them are beyond 64 bits. */
const MOST_EXACT = 2 ** 53
/** By column: whether all of its whole numbers are exact ones. */
const exact = new WeakMap<Float64Array, boolean>()

function isExact(values: Float64Array): boolean {
  const known = exact.get(values)
  if (known !== undefined) return known
  const all = values.every(value => Math.abs(value) <= MOST_EXACT)
  exact.set(values, all)
  return all
}

/** The column of some lines. */
export function batchColumn(written: WrittenColumn, lines: WrittenLines, shown: boolean): BatchColumn {
  const { column, field, show } = written
  const of = batchField(written, shown)
  const convert = shown ? show : converter(of)
  if (column.kind === 'part')
    return { ...of, values: lines.map((_, nth) => present(column.values[nth] ?? null, convert)) }
  if (column.kind === 'coded') {
    const known: ReturnType<typeof convert>[] = []
    return {
      ...of,
      values: lines.map(row =>
        isMissing(column, row) ? null : (known[column.codes[row]] ??= convert(valueAt(column, row))),
      ),
    }
  }
  if (column.kind === 'wide' && !shown)
    return { ...of, values: lines.map(row => (isMissing(column, row) ? null : column.values[row])) }
  if (column.kind === 'number' && (of.type === 'double' || of.type === 'int32') && field.type !== 'date')
    return { ...of, values: lines.map(row => (isMissing(column, row) ? null : column.values[row])) }
  if (column.kind === 'boolean' && !shown)
    return { ...of, values: lines.map(row => (isMissing(column, row) ? null : hasBit(column.values, row))) }
  return { ...of, values: lines.map(row => present(valueAt(column, row), convert)) }
}

const present = <T>(value: Value, convert: (value: Value) => T): T | null =>
  value === null ? null : convert(value)

function converter({
  type,
  scale = 0,
}: BatchField): (value: Value) => string | number | bigint | boolean | readonly string[] {
  switch (type) {
    case 'text':
      return String
    case 'texts':
      return value => tagsOf(String(value))
    case 'boolean':
      return value => value === true
    case 'int64':
      return value => (typeof value === 'string' ? BigInt(value) : BigInt(Math.trunc(Number(value))))
    case 'decimal':
      return value => unitsOfDigits(String(value), scale)
    case 'clock':
      return value => Math.floor(Number(value)) % DAY_MS
    case 'moment':
    case 'instant':
      return value => Math.floor(Number(value))
    default:
      return Number
  }
}
