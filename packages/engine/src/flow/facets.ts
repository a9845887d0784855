import { andInto, andNotInto, countBits, fullBits, hasBit, listBits, type Bits } from '../table/bits.ts'
import { valueAt } from '../table/column.ts'
import { SLICE, type Work } from '../work/work.ts'
import { extent } from '../order/number-codes.ts'
import type { Flow } from './flow.ts'
import type { Facets, FlowRequest, ValueCount } from './request.ts'

/** Bars of a histogram. */
export const HISTOGRAM_BARS = 24
/** Different values beyond which a number column is told by its histogram alone. */
const MAX_LISTED = 1 << 16

/** Values with counts of a column under the search and all other columns' conditions. `limit`: most values listed. */
export function* facets(flow: Flow, request: FlowRequest, columnKey: string, limit: number): Work<Facets> {
  const place = flow.places.get(columnKey)
  if (place === undefined) throw new RangeError(`There is no column "${columnKey}".`)
  const column = flow.table.columns[place]
  const total = flow.table.rows
  const among = (yield* flow.passingWithout(request, columnKey)) ?? fullBits(total)
  const missing = column.missing ? countBits(intersect(column.missing, among)) : 0
  const scale = yield* histogram(flow, place, among)
  const codes = yield* flow.codes.of(place)
  if ((column.kind === 'number' || column.kind === 'wide') && codes.size > MAX_LISTED) {
    return { values: [], distinct: null, missing, ...scale }
  }
  const counts = new Uint32Array(codes.size + 1)
  const firstRow = new Uint32Array(codes.size + 1)
  const rows = listBits(among, countBits(among))
  for (let from = 0; from < rows.length; from += SLICE) {
    const to = Math.min(rows.length, from + SLICE)
    for (let i = from; i < to; i++) {
      const code = codes.codes[rows[i]]
      if (counts[code]++ === 0) firstRow[code] = rows[i]
    }
    yield
  }
  const present: number[] = []
  for (let code = 0; code < codes.size; code++) if (counts[code] > 0) present.push(code)
  present.sort((a, b) => counts[b] - counts[a] || a - b)
  const values: ValueCount[] = present.slice(0, limit).map(code => {
    const value = valueAt(column, firstRow[code])
    return { value, shown: flow.shows[place](value), count: counts[code] }
  })
  return { values, distinct: present.length, missing, ...scale }
}

function intersect(a: Bits, b: Bits): Bits {
  const both = a.slice()
  andInto(both, b)
  return both
}

function* histogram(
  flow: Flow,
  place: number,
  among: Bits,
): Work<{ low: number | null; high: number | null; histogram: readonly number[] }> {
  const column = flow.table.columns[place]
  if (column.kind !== 'number') return { low: null, high: null, histogram: [] }
  const { low, high } = yield* extent(column)
  if (low > high) return { low: null, high: null, histogram: [] }
  const present = among.slice()
  if (column.missing) andNotInto(present, column.missing)
  const bars = yield* numberHistogram(column.values, present, low, high, HISTOGRAM_BARS)
  return { low, high, histogram: bars }
}

/** How many of the rows' values lie in each of equal steps from the least to the greatest. */
export function* numberHistogram(
  values: Float64Array | Int32Array,
  among: Bits,
  low: number,
  high: number,
  bars: number,
): Work<number[]> {
  const counts = new Array<number>(bars).fill(0)
  // Halved, so that the distance of the two outermost numbers there are is still one.
  const step = (high / 2 - low / 2) / bars || 1
  for (let row = 0; row < values.length; row++) {
    if (hasBit(among, row)) counts[Math.min(bars - 1, Math.floor((values[row] / 2 - low / 2) / step))]++
    if (row % SLICE === SLICE - 1) yield
  }
  return counts
}
