import { SLICE, type Work } from '../work/work.ts'

/**
 * Codes that sort like a column: equal values have equal codes, all below `size`; rows without a value hold
 * `size` itself and so come last whatever the direction.
 */
export interface Codes {
  readonly codes: Uint32Array
  readonly size: number
  /** Codes that share it stand for the same, whichever rows have them. Absent: nobody else's stand for the same. */
  readonly numbering?: object
}

/** Up to this many codes a counting pass is cheaper than radix passes, and always when there are more rows than codes. */
const COUNTING_LIMIT = 1 << 16

/**
 * Stable sort of `rows` (null: all rows in their own order) by codes. Returns a new array of row numbers.
 * One counting pass where the codes are few, else least-significant-digit radix passes of 11 bits.
 */
export function* sortByCodes(by: Codes, rows: Uint32Array | null, descending: boolean): Work<Uint32Array> {
  const count = rows ? rows.length : by.codes.length
  if (isCountable(by, count)) return (yield* countingSort(by, rows, descending)).rows
  const keys = new Uint32Array(by.codes.length)
  for (let from = 0; from < keys.length; from += SLICE) {
    turn(by.codes, by.size, descending, keys, from, Math.min(keys.length, from + SLICE))
    yield
  }
  return (yield* radixSort(keys, rows, count)).rows
}

function turn(
  codes: Uint32Array,
  size: number,
  down: boolean,
  keys: Uint32Array,
  from: number,
  to: number,
): void {
  if (down) for (let i = from; i < to; i++) keys[i] = codes[i] === size ? size : size - 1 - codes[i]
  else for (let i = from; i < to; i++) keys[i] = codes[i]
}

/** Whether a counting pass is the cheaper way for so many rows. */
const isCountable = (by: Codes, count: number): boolean => by.size <= Math.max(COUNTING_LIMIT, count)

interface CountedRows {
  readonly rows: Uint32Array
  /** By code: where its rows end. Missing rows have the last entry. */
  readonly ends: Uint32Array
}

/** Stable counting sort of `rows` (null: all) by codes. */
function* countingSort(by: Codes, rows: Uint32Array | null, down: boolean): Work<CountedRows> {
  const { codes, size } = by
  const count = rows ? rows.length : codes.length
  const places = new Uint32Array(size + 1)
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) tallyRows(codes, rows, places, from, to)
    else tally(codes, places, from, to)
    yield
  }
  startPlaces(places, size, down)
  const out = new Uint32Array(count)
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) placeRows(codes, rows, places, out, from, to)
    else place(codes, places, out, from, to)
    yield
  }
  return { rows: out, ends: places }
}

// Each loop stands in a function of its own so that it is optimised for its arrays alone.
function tally(codes: Uint32Array, places: Uint32Array, from: number, to: number): void {
  for (let i = from; i < to; i++) places[codes[i]]++
}
function tallyRows(
  codes: Uint32Array,
  rows: Uint32Array,
  places: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) places[codes[rows[i]]]++
}
function place(codes: Uint32Array, places: Uint32Array, out: Uint32Array, from: number, to: number): void {
  for (let i = from; i < to; i++) out[places[codes[i]]++] = i
}
function placeRows(
  codes: Uint32Array,
  rows: Uint32Array,
  places: Uint32Array,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const row = rows[i]
    out[places[codes[row]]++] = row
  }
}

/** Turns counts into first places; missing (the last code) is last in both directions. */
function startPlaces(places: Uint32Array, size: number, down: boolean): void {
  let start = 0
  for (let i = 0; i < size; i++) {
    const code = down ? size - 1 - i : i
    const count = places[code]
    places[code] = start
    start += count
  }
  places[size] = start
}

const DIGIT_BITS = 11
const DIGITS = 1 << DIGIT_BITS

/** Rows in order, and the key of each at its place. */
export interface RadixSorted {
  readonly rows: Uint32Array
  readonly keys: Uint32Array
}

/**
 * Stable radix sort of `rows` (null: all) by unsigned keys, one key a row of the column. Keys travel with their rows,
 * so that every pass reads in sequence; gathering them anew cost four times as much at five million rows. Digits in
 * which no key differs are skipped.
 */
export function* radixSort(keys: Uint32Array, rows: Uint32Array | null, count: number): Work<RadixSorted> {
  let from: RadixSorted = { rows: rows ?? allRows(count), keys: rows ? new Uint32Array(count) : keys }
  const varying = yield* gatherKeys(keys, rows, count, from.keys)
  let spare: RadixSorted | null = null
  let own = false
  for (let shift = 0; shift < 32; shift += DIGIT_BITS) {
    if (((varying >>> shift) & (DIGITS - 1)) === 0) continue
    const out: RadixSorted = spare ?? { rows: new Uint32Array(count), keys: new Uint32Array(count) }
    yield* radixPass(from, count, shift, out)
    spare = own ? from : null
    from = out
    own = true
  }
  return own ? from : { rows: from.rows.slice(), keys: from.keys }
}

function allRows(count: number): Uint32Array {
  const all = new Uint32Array(count)
  for (let i = 0; i < count; i++) all[i] = i
  return all
}

/** Puts the keys of the rows beside them; returns the bits in which keys differ. */
function* gatherKeys(
  keys: Uint32Array,
  rows: Uint32Array | null,
  count: number,
  into: Uint32Array,
): Work<number> {
  let either = 0
  let both = -1
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) for (let i = from; i < to; i++) into[i] = keys[rows[i]]
    for (let i = from; i < to; i++) {
      either |= into[i]
      both &= into[i]
    }
    yield
  }
  return (either ^ both) >>> 0
}

function* radixPass(from: RadixSorted, count: number, shift: number, out: RadixSorted): Work<void> {
  const places = new Uint32Array(DIGITS)
  const { keys } = from
  for (let start = 0; start < count; start += SLICE) {
    const end = Math.min(count, start + SLICE)
    for (let i = start; i < end; i++) places[(keys[i] >>> shift) & (DIGITS - 1)]++
    yield
  }
  let place = 0
  for (let digit = 0; digit < DIGITS; digit++) {
    const size = places[digit]
    places[digit] = place
    place += size
  }
  for (let start = 0; start < count; start += SLICE) {
    scatter(from.keys, from.rows, places, shift, out.keys, out.rows, start, Math.min(count, start + SLICE))
    yield
  }
}

function scatter(
  keys: Uint32Array,
  rows: Uint32Array,
  places: Uint32Array,
  shift: number,
  outKeys: Uint32Array,
  outRows: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const key = keys[i]
    const digit = (key >>> shift) & (DIGITS - 1)
    const at = places[digit]
    places[digit] = at + 1
    outKeys[at] = key
    outRows[at] = rows[i]
  }
}
