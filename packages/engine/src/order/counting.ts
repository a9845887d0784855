import { SLICE, type Work } from '../work/work.ts'

/**
 * Codes that sort like a column: equal values have equal codes, all below `size`; rows without a value hold
 * `size` itself and so come last whatever the direction.
 */
export interface Codes {
  readonly codes: Uint32Array
  readonly size: number
}

/** Up to this many codes a counting pass is cheaper than radix passes, and always when there are more rows than codes. */
const COUNTING_LIMIT = 1 << 16

/**
 * Stable sort of `rows` (null: all rows in their own order) by codes. Returns a new array of row numbers.
 * One counting pass where the codes are few, else least-significant-digit radix passes of 11 bits.
 */
export function* sortByCodes(by: Codes, rows: Uint32Array | null, descending: boolean): Work<Uint32Array> {
  const count = rows ? rows.length : by.codes.length
  if (by.size <= Math.max(COUNTING_LIMIT, count)) return yield* countingSort(by, rows, count, descending)
  const keys = new Uint32Array(by.codes.length)
  for (let from = 0; from < keys.length; from += SLICE) {
    turn(by.codes, by.size, descending, keys, from, Math.min(keys.length, from + SLICE))
    yield
  }
  return yield* radixSort(keys, rows, count)
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

function* countingSort(by: Codes, rows: Uint32Array | null, count: number, down: boolean): Work<Uint32Array> {
  const { codes, size } = by
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
  return out
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

/**
 * Stable radix sort of `rows` (null: all) by unsigned keys, one key a row of the column. Digits in which no key
 * differs are skipped.
 */
export function* radixSort(keys: Uint32Array, rows: Uint32Array | null, count: number): Work<Uint32Array> {
  const varying = yield* varyingBits(keys, rows, count)
  let from = rows
  let spare: Uint32Array | null = null
  for (let shift = 0; shift < 32; shift += DIGIT_BITS) {
    if (((varying >>> shift) & (DIGITS - 1)) === 0) continue
    const out: Uint32Array = spare ?? new Uint32Array(count)
    yield* radixPass(keys, from, count, shift, out)
    spare = from === rows ? null : from
    from = out
  }
  return from === rows ? ownCopy(rows, count) : from!
}

function ownCopy(rows: Uint32Array | null, count: number): Uint32Array {
  if (rows) return rows.slice()
  const all = new Uint32Array(count)
  for (let i = 0; i < count; i++) all[i] = i
  return all
}

function* varyingBits(keys: Uint32Array, rows: Uint32Array | null, count: number): Work<number> {
  let either = 0
  let both = -1
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    for (let i = from; i < to; i++) {
      const key = keys[rows ? rows[i] : i]
      either |= key
      both &= key
    }
    yield
  }
  return (either ^ both) >>> 0
}

function* radixPass(
  keys: Uint32Array,
  rows: Uint32Array | null,
  count: number,
  shift: number,
  out: Uint32Array,
): Work<void> {
  const places = new Uint32Array(DIGITS)
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) for (let i = from; i < to; i++) places[(keys[rows[i]] >>> shift) & (DIGITS - 1)]++
    else for (let i = from; i < to; i++) places[(keys[i] >>> shift) & (DIGITS - 1)]++
    yield
  }
  let start = 0
  for (let digit = 0; digit < DIGITS; digit++) {
    const size = places[digit]
    places[digit] = start
    start += size
  }
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) scatterRows(keys, rows, places, shift, out, from, to)
    else scatter(keys, places, shift, out, from, to)
    yield
  }
}

function scatter(
  keys: Uint32Array,
  places: Uint32Array,
  shift: number,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) out[places[(keys[i] >>> shift) & (DIGITS - 1)]++] = i
}
function scatterRows(
  keys: Uint32Array,
  rows: Uint32Array,
  places: Uint32Array,
  shift: number,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const row = rows[i]
    out[places[(keys[row] >>> shift) & (DIGITS - 1)]++] = row
  }
}
