import { andInto, andNotInto, countBits, fullBits, hasBit, listBits, type Bits } from '../table/bits.ts'
import { valueAt, type Column, type Value, textOf, isDigitColumn } from '../table/column.ts'
import { tagsOf, type Show } from '../table/shown-text.ts'
import { fold } from '../search/fold.ts'
import { SLICE, type Work } from '../work/work.ts'
import { extent } from '../table/extent.ts'
import type { Flow } from '../flow/flow.ts'
import type { FlowRequest } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Question } from './question.ts'

/** Bars of a histogram. */
export const HISTOGRAM_BARS = 24
/** Different values beyond which a number column is told by its histogram alone. */
const MAX_LISTED = 1 << 16

export interface ValueCount {
  readonly value: Value
  readonly shown: string
  readonly count: number
}

/** What values a column holds under the search and all other columns' conditions. */
export interface Facets {
  /** The most frequent values first, at most as many as asked for; none for columns of mostly different numbers. */
  readonly values: readonly ValueCount[]
  /** How many different values occur; null where they were not counted. */
  readonly distinct: number | null
  readonly missing: number
  /** For numbers and dates: the extent over the whole table, and rows per equal step of it. */
  readonly low: number | null
  readonly high: number | null
  readonly histogram: readonly number[]
  /** The smallest and largest value among the rows that are counted. */
  readonly least: number | null
  readonly most: number | null
}

/** Which values are listed: at most so many, and only those whose shown text holds a text. */
export interface FacetsAsked {
  readonly limit: number
  readonly holding?: string
}

/** Values with counts of a column under the search and all other columns' conditions; of tags, each tag. */
export const facets: Question<
  FacetsAsked & { readonly request: ViewRequest; readonly column: string },
  Facets
> = {
  answer: ({ flow }, { request, column, ...asked }) => facetsOf(flow, request, column, asked),
}

export function* facetsOf(
  flow: Flow,
  request: FlowRequest,
  columnKey: string,
  asked: FacetsAsked,
): Work<Facets> {
  const place = flow.columnIndexes.get(columnKey)
  if (place === undefined) throw new RangeError(`There is no column "${columnKey}".`)
  const column = flow.table.columns[place]
  const total = flow.table.rows
  const among = (yield* flow.passingWithout(request, columnKey)) ?? fullBits(total)
  const missing = column.missing ? countBits(intersect(column.missing, among)) : 0
  const scale = yield* histogram(flow, place, among)
  const codes = yield* flow.codes.of(place)
  if (
    (column.kind === 'number' || column.kind === 'wide' || isDigitColumn(column)) &&
    codes.size > MAX_LISTED
  ) {
    return { values: [], distinct: null, missing, ...scale }
  }
  const { counts, firstRow } = yield* tally(codes.codes, codes.size, among)
  const present: number[] = []
  for (let code = 0; code < codes.size; code++) if (counts[code] > 0) present.push(code)
  const all =
    flow.table.fields[place].type === 'tags'
      ? yield* tagCounts(present, code => textOf(column, firstRow[code]), counts)
      : yield* valueCounts(present, code => valueAt(column, firstRow[code]), counts, flow.shows[place], asked)
  return { ...all, values: all.values.filter(holds(asked)).slice(0, asked.limit), missing, ...scale }
}

function* tally(
  codes: Uint32Array,
  size: number,
  among: Bits,
): Work<{ counts: Uint32Array; firstRow: Uint32Array }> {
  const counts = new Uint32Array(size + 1)
  const firstRow = new Uint32Array(size + 1)
  const rows = listBits(among, countBits(among))
  for (let from = 0; from < rows.length; from += SLICE) {
    const to = Math.min(rows.length, from + SLICE)
    for (let i = from; i < to; i++) {
      const code = codes[rows[i]]
      if (counts[code]++ === 0) firstRow[code] = rows[i]
    }
    yield
  }
  return { counts, firstRow }
}

const holds =
  ({ holding }: FacetsAsked) =>
  ({ shown }: ValueCount): boolean =>
    !holding || fold(shown).includes(fold(holding))

/** A value as conditions name it: JSON has no infinity. */
export const sayable = (value: Value): Value =>
  value === Infinity || value === -Infinity ? String(value) : value

type Listed = Pick<Facets, 'values' | 'distinct'>

/** The most frequent values first; written only as far as they may be listed. */
function* valueCounts(
  present: number[],
  valueOf: (code: number) => Value,
  counts: Uint32Array,
  show: Show,
  asked: FacetsAsked,
): Work<Listed> {
  present.sort((a, b) => counts[b] - counts[a] || a - b)
  const values: ValueCount[] = []
  const isHeld = holds(asked)
  for (const [nth, code] of present.entries()) {
    if (values.length >= asked.limit) break
    const value = valueOf(code)
    const entry = { value: sayable(value), shown: show(value), count: counts[code] }
    if (isHeld(entry)) values.push(entry)
    if (nth % VALUES_A_SLICE === VALUES_A_SLICE - 1) yield
  }
  return { values, distinct: present.length }
}

/** Writing and folding a value takes up to some microseconds. */
const VALUES_A_SLICE = 1 << 10

/** How many rows have each tag; the most frequent first. */
function* tagCounts(present: number[], valueOf: (code: number) => string, counts: Uint32Array): Work<Listed> {
  const byTag = new Map<string, number>()
  for (const [nth, code] of present.entries()) {
    for (const tag of new Set(tagsOf(valueOf(code)))) byTag.set(tag, (byTag.get(tag) ?? 0) + counts[code])
    if (nth % VALUES_A_SLICE === VALUES_A_SLICE - 1) yield
  }
  const values = [...byTag].map(([tag, count]): ValueCount => ({ value: tag, shown: tag, count }))
  values.sort((a, b) => b.count - a.count || (a.shown < b.shown ? -1 : 1))
  return { values, distinct: values.length }
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
): Work<Pick<Facets, 'low' | 'high' | 'least' | 'most' | 'histogram'>> {
  const column = flow.table.columns[place]
  const none = { low: null, high: null, least: null, most: null, histogram: [] }
  if (column.kind !== 'number') return none
  const ends = yield* extent(column)
  if (ends.low > ends.high) return none
  const there = withValue(fullBits(flow.table.rows), column)
  // No scale reaches to an infinity: such values lie in its outermost bars.
  const isFinite = Number.isFinite(ends.low) && Number.isFinite(ends.high)
  const { least: low, most: high } = isFinite
    ? { least: ends.low, most: ends.high }
    : yield* extentAmong(column.values, there)
  if (low === null || high === null) return none
  const passing = withValue(among, column)
  const bars = yield* numberHistogram(column.values, passing, low, high, HISTOGRAM_BARS)
  return { low, high, ...(yield* extentAmong(column.values, passing)), histogram: bars }
}

/** Those of some rows that have a value. */
function withValue(rows: Bits, { missing }: Column): Bits {
  const found = rows.slice()
  if (missing) andNotInto(found, missing)
  return found
}

/** The least and the greatest finite number. */
function* extentAmong(
  values: Float64Array | Int32Array,
  among: Bits,
): Work<{ least: number | null; most: number | null }> {
  let least = Infinity
  let most = -Infinity
  for (let row = 0; row < values.length; row++) {
    if (hasBit(among, row)) {
      const value = values[row]
      if (value < least && value !== -Infinity) least = value
      if (value > most && value !== Infinity) most = value
    }
    if (row % SLICE === SLICE - 1) yield
  }
  return least > most ? { least: null, most: null } : { least, most }
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
    if (hasBit(among, row)) {
      const bar = Math.floor((values[row] / 2 - low / 2) / step)
      counts[Math.max(0, Math.min(bars - 1, bar))]++
    }
    if (row % SLICE === SLICE - 1) yield
  }
  return counts
}
