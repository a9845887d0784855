import { DAY_MS } from '../table/calendar.ts'
import { isDigitColumn, isMissing, valueAt, type Field, type Value } from '../table/column.ts'
import { hasBit } from '../table/bits.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { WrittenColumn, WrittenLines } from './written-column.ts'

/** `day`: days since 1970; `clock`: milliseconds of a day; `moment` and `instant`: milliseconds since 1970, wall time or UTC. */
export type BatchType =
  'text' | 'int32' | 'int64' | 'double' | 'boolean' | 'day' | 'clock' | 'moment' | 'instant' | 'texts'

export interface BatchField {
  readonly name: string
  readonly type: BatchType
}

/** A column of some rows: a value a row, null where it has none. Numbers of `int64` are big ones. */
export interface BatchColumn extends BatchField {
  readonly values: readonly (string | number | bigint | boolean | readonly string[] | null)[]
}

/** What a column is called and holds. `shown`: what it shows, as texts. */
export function batchField({ field, column }: WrittenColumn, shown: boolean): BatchField {
  return { name: field.key, type: shown ? 'text' : typeOf(field, column) }
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
  const convert = shown ? show : converter(of.type)
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

function converter(
  type: BatchType,
): (value: Value) => string | number | bigint | boolean | readonly string[] {
  switch (type) {
    case 'text':
      return String
    case 'texts':
      return value => tagsOf(String(value))
    case 'boolean':
      return value => value === true
    case 'int64':
      return value => (typeof value === 'string' ? BigInt(value) : BigInt(Math.trunc(Number(value))))
    case 'clock':
      return value => Math.floor(Number(value)) % DAY_MS
    case 'moment':
    case 'instant':
      return value => Math.floor(Number(value))
    default:
      return Number
  }
}
