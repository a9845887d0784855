import type { ColumnCodes } from '../order/column-codes.ts'
import type { Codes } from '../order/counting.ts'
import { isDigitColumn, type Column, type ColumnIndex, type Field, type Value } from '../table/column.ts'
import type { ZoneOffset } from '../table/zone.ts'
import type { Work } from '../work/work.ts'
import { pickRows } from '../edit/gather-rows.ts'
import { dateCodes, letterCodes, rangeCodes, type BucketCodes } from './bucket-codes.ts'
import { bucketFits, type Bucket } from './bucket.ts'

/** A column whose rows fall into groups. */
export interface Grouped {
  readonly place: ColumnIndex
  readonly field: Field
  readonly column: Column
  /** Of instants: where their days are reckoned. */
  readonly zone: ZoneOffset | null
}

/** Rows by their group. */
export interface LevelBuckets extends Codes {
  readonly numbering: object
  /** By code, what names the group; null: the value that its rows have. */
  readonly keys: readonly NonNullable<Value>[] | null
}

/** The bucket that is worked out: by value where the wanted one does not fit the column, which may be another by now. */
export const fittingBucket = (bucket: Bucket, field: Field, column: Column): Bucket =>
  bucketFits(bucket, field.type) && column.kind !== 'wide' && !isDigitColumn(column)
    ? bucket
    : { by: 'value' }

/** The groups that a column's rows fall into. */
export function* levelBuckets(
  wanted: Bucket,
  { place, field, column, zone }: Grouped,
  codes: ColumnCodes,
): Work<LevelBuckets> {
  const bucket = fittingBucket(wanted, field, column)
  const made = yield* cutUp(bucket, column, field, codes, zone)
  if (made) return { ...made, numbering: made.keys }
  const byValue = bucket.by === 'shown' ? yield* codes.shown(place, true) : yield* codes.of(place)
  const { size, numbering = {} } = byValue
  return { codes: byValue.codes, size, numbering, keys: null }
}

/**
 * Groups once values of some rows have changed, by a look at these alone. Null: one of them falls into a group that was
 * not there, or the others say where it falls. `changed`: rows that changed or are new, of `rows` in all.
 */
export function* followBuckets(
  before: LevelBuckets,
  wanted: Bucket,
  grouped: Grouped,
  codes: ColumnCodes,
  changed: Uint32Array,
  rows: number,
): Work<LevelBuckets | null> {
  const { column, field } = grouped
  if (!before.keys || fittingBucket(wanted, field, column).by === 'parts') return null
  const some = pickRows({ rows, fields: [field], columns: [column] }, changed)
  const made = yield* levelBuckets(wanted, { ...grouped, column: some.columns[0] }, codes)
  const codeOf = new Map<Value, number>()
  const sought = new Set<Value>(made.keys)
  before.keys.forEach((key, code) => sought.has(key) && codeOf.set(key, code))
  if (codeOf.size < sought.size) return null
  const after = new Uint32Array(rows)
  after.set(before.codes)
  changed.forEach((row, i) => {
    const key = made.codes[i] < made.size ? made.keys?.[made.codes[i]] : undefined
    after[row] = key === undefined ? before.size : (codeOf.get(key) ?? before.size)
  })
  return { ...before, codes: after }
}

function* cutUp(
  bucket: Bucket,
  column: Column,
  field: Field,
  codes: ColumnCodes,
  zone: ZoneOffset | null,
): Work<BucketCodes | null> {
  switch (bucket.by) {
    case 'value':
    case 'shown':
    case 'expression':
      return null
    case 'date':
      return column.kind === 'number' ? yield* dateCodes(bucket, column, field, zone) : null
    case 'letters':
      return column.kind === 'coded' || column.kind === 'plain'
        ? yield* letterCodes(bucket.count, column, codes.collation(false))
        : null
    default:
      return column.kind === 'number' ? yield* rangeCodes(bucket, column) : null
  }
}
