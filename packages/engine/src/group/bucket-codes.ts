import type { Codes } from '../order/counting.ts'
import { fold } from '../search/fold.ts'
import { hasBit } from '../table/bits.ts'
import { civilDay, dayNumber, DAY_MS } from '../table/calendar.ts'
import type { CodedColumn, Field, NumberColumn, PlainColumn, Value } from '../table/column.ts'
import { textAt, textCount } from '../table/text-block.ts'
import type { ZoneOffset } from '../table/zone.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Bucket, DatePart } from './bucket.ts'

/** Rows by the bucket that they fall into; `size` stands for those without a value. */
export interface BucketCodes extends Codes {
  /**
   * By code, ascending: what names the bucket. Of ranges their lower end (−Infinity for what lies below the first
   * break), of running date parts the day or moment that they begin with, of recurring ones their number (Monday is 1),
   * of letters the letters.
   */
  readonly keys: readonly NonNullable<Value>[]
}

const HOUR_MS = 3_600_000
/** Buckets that lie no further apart than this get their codes from a table of all between. */
const DENSE = 1 << 22

/** By ranges of numbers. `parts` looks at all rows, so that conditions do not move the borders. */
export function* rangeCodes(
  bucket: Extract<Bucket, { by: 'range' | 'breaks' | 'parts' }>,
  column: NumberColumn,
): Work<BucketCodes> {
  if (bucket.by === 'range') {
    const { step, origin } = bucket
    return yield* numbered(
      column,
      value => steps(value, origin, step),
      index => origin + index * step,
    )
  }
  const breaks = bucket.by === 'breaks' ? bucket.at : yield* equalParts(column, bucket.count)
  return yield* numbered(
    column,
    value => countUpTo(breaks, value),
    index => (index === 0 ? -Infinity : breaks[index - 1]),
  )
}

/** By parts of dates, moments or times. `zone`: of moments, where their days are reckoned; default UTC. */
export function* dateCodes(
  { part, every }: Pick<Extract<Bucket, { by: 'date' }>, 'part' | 'every'>,
  column: NumberColumn,
  { type, zoned }: Pick<Field, 'type' | 'zoned'>,
  zone: ZoneOffset | null = null,
): Work<BucketCodes> {
  const days = type === 'date'
  const local = zoned && zone ? (ms: number) => ms + zone(ms) : (ms: number) => ms
  const recurs = every || part === 'weekday' || type === 'time'
  if (part === 'hour') {
    const hour = days ? () => 0 : (ms: number) => Math.floor(local(ms) / HOUR_MS)
    return recurs
      ? yield* numbered(
          column,
          ms => ((hour(ms) % 24) + 24) % 24,
          index => index,
        )
      : yield* numbered(column, hour, index => index * HOUR_MS)
  }
  const dayOf = days ? (day: number) => day : (ms: number) => Math.floor(local(ms) / DAY_MS)
  const valueOf = days ? (day: number) => day : (day: number) => day * DAY_MS
  if (recurs)
    return yield* numbered(
      column,
      value => recurring(part, dayOf(value)),
      index => index,
    )
  return yield* numbered(
    column,
    value => running(part, dayOf(value)),
    index => valueOf(firstDay(part, index)),
  )
}

/** By first letters, in the order of a collator; texts that differ in case and accents alone begin alike. */
export function* letterCodes(
  count: number,
  column: CodedColumn | PlainColumn,
  collator: Intl.Collator,
): Work<BucketCodes> {
  const letters = (text: string): string =>
    Array.from(fold(text).trim()).slice(0, count).join('').toUpperCase()
  const { texts } = column
  const numbers = new Map<string, number>()
  const ofText = new Uint32Array(textCount(texts))
  for (let i = 0; i < ofText.length; i++) {
    const key = letters(textAt(texts, i))
    let number = numbers.get(key)
    if (number === undefined) numbers.set(key, (number = numbers.size))
    ofText[i] = number
    if (i % SLICE === SLICE - 1) yield
  }
  const found = [...numbers.keys()]
  const used = new Uint8Array(found.length)
  const rows = column.kind === 'coded' ? column.codes.length : ofText.length
  const rowCodes = new Uint32Array(rows)
  for (let row = 0; row < rows; row++) {
    if (column.missing && hasBit(column.missing, row)) rowCodes[row] = found.length
    else used[(rowCodes[row] = ofText[column.kind === 'coded' ? column.codes[row] : row])] = 1
    if (row % SLICE === SLICE - 1) yield
  }
  const order = found
    .map((_, i) => i)
    .filter(i => used[i] === 1)
    .sort((a, b) => collator.compare(found[a], found[b]) || (found[a] < found[b] ? -1 : 1))
  const codeOf = new Uint32Array(found.length + 1).fill(order.length)
  order.forEach((number, code) => (codeOf[number] = code))
  for (let row = 0; row < rows; row++) rowCodes[row] = codeOf[rowCodes[row]]
  return { codes: rowCodes, size: order.length, keys: order.map(i => found[i]) }
}

/** Codes of the whole numbers that a function gives the values; only numbers that occur have one. */
function* numbered(
  { values, missing }: NumberColumn,
  indexOf: (value: number) => number,
  keyOf: (index: number) => NonNullable<Value>,
): Work<BucketCodes> {
  const indexes = new Float64Array(values.length)
  let [low, high] = [Infinity, -Infinity]
  for (let row = 0; row < indexes.length; row++) {
    if (row % SLICE === SLICE - 1) yield
    if (missing && hasBit(missing, row)) continue
    const index = indexOf(values[row])
    indexes[row] = index
    if (index < low) low = index
    if (index > high) high = index
  }
  const present = (row: number): boolean => !(missing && hasBit(missing, row))
  const codes = new Uint32Array(values.length)
  const order: number[] = []
  if (high - low < DENSE) {
    const codeOf = new Uint32Array(Math.max(0, high - low + 1))
    for (let row = 0; row < indexes.length; row++) if (present(row)) codeOf[indexes[row] - low] = 1
    yield
    for (let at = 0; at < codeOf.length; at++) if (codeOf[at] === 1) codeOf[at] = order.push(low + at) - 1
    for (let row = 0; row < indexes.length; row++)
      codes[row] = present(row) ? codeOf[indexes[row] - low] : order.length
  } else {
    const seen = new Set<number>()
    for (let row = 0; row < indexes.length; row++) if (present(row)) seen.add(indexes[row])
    order.push(...[...seen].sort((a, b) => a - b))
    const codeOf = new Map(order.map((index, code) => [index, code]))
    yield
    for (let row = 0; row < indexes.length; row++)
      codes[row] = present(row) ? (codeOf.get(indexes[row]) ?? 0) : order.length
  }
  return { codes, size: order.length, keys: order.map(keyOf) }
}

/** How many whole steps lie between; 0.3 is three steps of 0.1 from 0, whatever doubles make of it. */
function steps(value: number, origin: number, step: number): number {
  const exact = (value - origin) / step
  const near = Math.round(exact)
  const blur = (8 * Number.EPSILON * (Math.abs(value) + Math.abs(origin) + step)) / step
  return Math.abs(exact - near) <= blur ? near : Math.floor(exact)
}

/** How many of the ascending breaks are at or below a value. */
function countUpTo(breaks: ArrayLike<number>, value: number): number {
  let [low, high] = [0, breaks.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (breaks[middle] <= value) low = middle + 1
    else high = middle
  }
  return low
}

/** The lower ends of so many ranges that hold about as many values each. */
function* equalParts({ values, missing }: NumberColumn, count: number): Work<number[]> {
  const sorted = Float64Array.from(values)
  let length = 0
  for (let row = 0; row < values.length; row++)
    if (!(missing && hasBit(missing, row))) sorted[length++] = values[row]
  const present = sorted.subarray(0, length)
  yield
  present.sort()
  yield
  const ends = Array.from({ length: count }, (_, i) => present[Math.floor((i * length) / count)])
  return length === 0 ? [] : [...new Set(ends)]
}

/** The number of a part of the calendar, running on from part to part. */
function running(part: DatePart, day: number): number {
  if (part === 'day') return day
  // 1970-01-01 was a Thursday.
  if (part === 'week') return Math.floor((day + 3) / 7)
  const { year, month } = civilDay(day)
  if (part === 'year') return year
  return part === 'quarter' ? year * 4 + Math.floor((month - 1) / 3) : year * 12 + month - 1
}

function firstDay(part: DatePart, index: number): number {
  switch (part) {
    case 'year':
      return dayNumber(index, 1, 1)
    case 'quarter':
      return dayNumber(Math.floor(index / 4), (((index % 4) + 4) % 4) * 3 + 1, 1)
    case 'month':
      return dayNumber(Math.floor(index / 12), (((index % 12) + 12) % 12) + 1, 1)
    case 'week':
      return index * 7 - 3
    default:
      return index
  }
}

/** The number of a part within what it recurs in: months within the year, days within the month. */
function recurring(part: DatePart, day: number): number {
  const weekday = ((((day + 3) % 7) + 7) % 7) + 1
  if (part === 'weekday') return weekday
  const { year, month, day: ofMonth } = civilDay(day)
  switch (part) {
    case 'quarter':
      return Math.floor((month - 1) / 3) + 1
    case 'month':
      return month
    case 'day':
      return ofMonth
    case 'week': {
      // A week belongs to the year that its Thursday lies in.
      const thursday = day - weekday + 4
      return Math.floor((thursday - dayNumber(civilDay(thursday).year, 1, 1)) / 7) + 1
    }
    default:
      return year
  }
}
