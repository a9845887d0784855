import type { NumberColumn, WideColumn } from '../table/column.ts'
import { hasBit } from '../table/bits.ts'
import { extent } from '../table/extent.ts'
import { SLICE, type Work } from '../work/work.ts'
import { radixSort, type Codes } from './counting.ts'

/** More codes than this and a code table costs more than it saves. */
const MAX_SCALED = 1 << 20
const SCALES = [1, 10, 100, 1000, 10_000, 100_000]

/** Codes by which numbers that are whole multiples of a power of ten can be counted. */
export interface ScaledCodes extends Codes {
  /** The value of code `c` is `(c + base) / scale`. */
  readonly base: number
  readonly scale: number
}

/**
 * Codes of a column whose values are few decimals in a small range (most measured data), else null. One pass finds
 * the extent, one writes the codes; a wrong scale is given up at the first value that does not fit.
 */
export function* scaledCodes(column: NumberColumn): Work<ScaledCodes | null> {
  const { values, missing } = column
  const { low, high } = yield* extent(column)
  if (low > high) return { codes: new Uint32Array(values.length), size: 0, base: 0, scale: 1 }
  for (const scale of SCALES) {
    const base = Math.round(low * scale)
    const size = Math.round(high * scale) - base + 1
    if (!(size <= MAX_SCALED)) return null
    const codes = new Uint32Array(values.length)
    let fits = true
    for (let from = 0; fits && from < values.length; from += SLICE) {
      const to = Math.min(values.length, from + SLICE)
      fits =
        values instanceof Int32Array
          ? codeIntegers(values, base, codes, from, to)
          : codeFloats(values, scale, base, codes, from, to)
      yield
    }
    if (!fits) continue
    if (missing) for (let row = 0; row < codes.length; row++) if (hasBit(missing, row)) codes[row] = size
    return { codes, size, base, scale }
  }
  return null
}

function codeIntegers(values: Int32Array, base: number, codes: Uint32Array, from: number, to: number): true {
  for (let i = from; i < to; i++) codes[i] = values[i] - base
  return true
}

function codeFloats(
  values: Float64Array,
  scale: number,
  base: number,
  codes: Uint32Array,
  from: number,
  to: number,
): boolean {
  for (let i = from; i < to; i++) {
    const value = values[i]
    const scaled = Math.round(value * scale)
    if (scaled / scale !== value) return false
    codes[i] = scaled - base
  }
  return true
}

/** Numbers as two unsigned words that sort like them: sign and exponent first. −0 counts as 0. */
export interface WideKeys {
  readonly high: Uint32Array
  readonly low: Uint32Array
}

const TOP = 0x80000000

/** The words of each row's number, turned round for descending order; rows without a value get the largest. */
export function* wideKeys(column: NumberColumn, descending: boolean): Work<WideKeys> {
  const { values, missing } = column
  const floats = values instanceof Float64Array ? values : Float64Array.from(values)
  // The bits are read as little-endian words; every engine that runs this is little-endian.
  const words = new Uint32Array(floats.buffer, floats.byteOffset, floats.length * 2)
  const high = new Uint32Array(floats.length)
  const low = new Uint32Array(floats.length)
  const turned = descending ? 0xffffffff : 0
  for (let from = 0; from < floats.length; from += SLICE) {
    const to = Math.min(floats.length, from + SLICE)
    for (let i = from, w = from * 2; i < to; i++, w += 2) {
      const top = words[w + 1]
      const negative = top >> 31
      const zero = floats[i] === 0
      high[i] = (zero ? TOP : top ^ (negative | TOP)) ^ turned
      low[i] = (zero ? 0 : words[w] ^ negative) ^ turned
    }
    yield
  }
  if (missing) {
    for (let i = 0; i < floats.length; i++) if (hasBit(missing, i)) high[i] = low[i] = 0xffffffff
  }
  return { high, low }
}

/** The same words for whole numbers of 64 bits. */
export function* wideIntegerKeys(column: WideColumn, descending: boolean): Work<WideKeys> {
  const { values, missing } = column
  const words = new Uint32Array(values.buffer, values.byteOffset, values.length * 2)
  const high = new Uint32Array(values.length)
  const low = new Uint32Array(values.length)
  const turned = descending ? 0xffffffff : 0
  for (let from = 0; from < values.length; from += SLICE) {
    const to = Math.min(values.length, from + SLICE)
    for (let i = from; i < to; i++) {
      high[i] = words[i * 2 + 1] ^ TOP ^ turned
      low[i] = words[i * 2] ^ turned
    }
    yield
  }
  if (missing) {
    for (let i = 0; i < high.length; i++) if (hasBit(missing, i)) high[i] = low[i] = 0xffffffff
  }
  return { high, low }
}

/** Stable sort of rows (null: all) by wide keys: radix over the high words, then the few ties by the low ones. */
export function* sortByWideKeys(keys: WideKeys, rows: Uint32Array | null, count: number): Work<Uint32Array> {
  const { high, low } = keys
  const { rows: sorted, keys: words } = yield* radixSort(high, rows, count)
  let checked = 0
  for (let from = 0; from < count;) {
    const word = words[from]
    let to = from + 1
    while (to < count && words[to] === word) to++
    if (to - from > 1) settleTies(sorted, low, from, to)
    if (to - checked > SLICE) {
      checked = to
      yield
    }
    from = to
  }
  return sorted
}

function settleTies(sorted: Uint32Array, low: Uint32Array, from: number, to: number): void {
  let ordered = true
  for (let i = from + 1; ordered && i < to; i++) ordered = low[sorted[i]] >= low[sorted[i - 1]]
  if (ordered) return
  if (to - from > 24) {
    // Typed-array sort with a comparator is stable, as ES2023 demands.
    sorted.subarray(from, to).sort((a, b) => low[a] - low[b])
    return
  }
  for (let i = from + 1; i < to; i++) {
    const row = sorted[i]
    const word = low[row]
    let at = i - 1
    while (at >= from && low[sorted[at]] > word) {
      sorted[at + 1] = sorted[at]
      at--
    }
    sorted[at + 1] = row
  }
}
