import type { ColumnCodes } from '../order/column-codes.ts'
import type { Codes } from '../order/counting.ts'
import type { Column, ColumnIndex, Field, Value } from '../table/column.ts'
import type { ZoneOffset } from '../table/zone.ts'
import type { Work } from '../work/work.ts'
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
  /** By code, what names the group; null: the value that its rows have. */
  readonly keys: readonly NonNullable<Value>[] | null
}

/** The bucket that is worked out: by value where the wanted one does not fit the column, which may be another by now. */
export const fittingBucket = (bucket: Bucket, field: Field, column: Column): Bucket =>
  bucketFits(bucket, field.type) && column.kind !== 'wide' ? bucket : { by: 'value' }

/** The groups that a column's rows fall into. */
export function* levelBuckets(
  wanted: Bucket,
  { place, field, column, zone }: Grouped,
  codes: ColumnCodes,
): Work<LevelBuckets> {
  const bucket = fittingBucket(wanted, field, column)
  const made = yield* cutUp(bucket, column, field, codes, zone)
  if (made) return made
  const byValue = bucket.by === 'shown' ? yield* codes.shown(place, true) : yield* codes.of(place)
  return { codes: byValue.codes, size: byValue.size, keys: null }
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
