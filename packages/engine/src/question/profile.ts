import { andNotInto, countBits, fullBits, hasBit, type Bits } from '../table/bits.ts'
import { valueAt, type Column } from '../table/column.ts'
import { textAt } from '../table/text-block.ts'
import { SLICE, type Work } from '../work/work.ts'
import { extent } from '../table/extent.ts'
import type { Flow } from '../flow/flow.ts'
import type { Binding } from '../flow/view-request.ts'
import { HISTOGRAM_BARS, numberHistogram, type ValueCount } from './facets.ts'
import type { Question } from './question.ts'

/** What a column holds over all rows. */
export interface Profile {
  readonly rows: number
  readonly missing: number
  /** How many different values there are; null: too many to be worth counting. */
  readonly distinct: number | null
  /** The most frequent values of texts and truths. */
  readonly values: readonly ValueCount[]
  /** For numbers and dates. */
  readonly low: number | null
  readonly high: number | null
  readonly lowShown?: string
  readonly highShown?: string
  readonly histogram: readonly number[]
}

/** What a column holds over all rows, whatever is arranged. `limit`: most values listed. */
export const profile: Question<
  { readonly column: string; readonly limit: number; readonly binding?: Binding },
  Profile
> = {
  answer: ({ flow }, { column, limit }) => profileOf(flow, column, limit),
}

/** Told without sorting or indexing anything. Linear. */
function* profileOf(flow: Flow, columnKey: string, limit: number): Work<Profile> {
  const place = flow.columnIndexes.get(columnKey)
  if (place === undefined) throw new RangeError(`There is no column "${columnKey}".`)
  const column = flow.table.columns[place]
  const show = flow.shows[place]
  const present = fullBits(flow.table.rows)
  if (flow.gone) andNotInto(present, flow.gone)
  const rows = countBits(present)
  if (column.missing) andNotInto(present, column.missing)
  const missing = rows - countBits(present)
  const told = { rows, missing, low: null, high: null, histogram: [], values: [], distinct: null }
  if (column.kind === 'number') {
    const { low, high } = yield* extent(column)
    if (low > high) return told
    const histogram = yield* numberHistogram(column.values, present, low, high, HISTOGRAM_BARS)
    const scaled = yield* flow.codes.scaled(place)
    const distinct = scaled ? yield* countDistinct(scaled.codes, scaled.size, present) : null
    return { ...told, low, high, lowShown: show(low), highShown: show(high), histogram, distinct }
  }
  const counted = yield* countValues(column, present)
  if (!counted) return told
  const codes = [...counted.keys()].filter(code => counted[code] > 0)
  codes.sort((a, b) => counted[b] - counted[a] || a - b)
  const values = codes.slice(0, limit).map((code): ValueCount => {
    const value = column.kind === 'coded' ? textAt(column.texts, code) : code === 1
    return { value, shown: show(value), count: counted[code] }
  })
  return { ...told, values, distinct: codes.length }
}

/** Rows by the number of their value; null where nearly every row has a value of its own. */
function* countValues(column: Column, present: Bits): Work<Uint32Array | null> {
  if (column.kind !== 'coded' && column.kind !== 'boolean') return null
  const counts = new Uint32Array(column.kind === 'coded' ? column.texts.offsets.length - 1 : 2)
  const rows = column.kind === 'coded' ? column.codes.length : present.length * 32
  for (let from = 0; from < rows; from += SLICE) {
    const to = Math.min(rows, from + SLICE)
    for (let row = from; row < to; row++) {
      if (!hasBit(present, row)) continue
      counts[column.kind === 'coded' ? column.codes[row] : valueAt(column, row) ? 1 : 0]++
    }
    yield
  }
  return counts
}

function* countDistinct(codes: Uint32Array, size: number, present: Bits): Work<number> {
  const seen = new Uint8Array(size + 1)
  for (let from = 0; from < codes.length; from += SLICE) {
    const to = Math.min(codes.length, from + SLICE)
    for (let row = from; row < to; row++) if (hasBit(present, row)) seen[codes[row]] = 1
    yield
  }
  return seen.reduce((sum, one) => sum + one, 0)
}
