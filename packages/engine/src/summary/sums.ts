import type { Codes } from '../order/counting.ts'
import { andNotInto, fullBits, hasBit, type Bits } from '../table/bits.ts'
import {
  isDigitColumn,
  type BooleanColumn,
  type Column,
  type DigitColumn,
  type NumberColumn,
  type WideColumn,
} from '../table/column.ts'
import { decimalsOfDigits, unitsOfDigits } from '../table/digits.ts'
import { textAt, textCount } from '../table/text-block.ts'
import { SLICE, type Work } from '../work/work.ts'

/**
 * Of every code or node, side by side so that one look finds them: `SUM` of the values, `CARRY`, `LEAST` and `MOST`. Sum
 * and carry together are the sum; what each adding loses is kept in the carry, found without a branch (Knuth’s TwoSum). Least and most are `Infinity`
 * and `-Infinity` where no row has a value.
 */
export interface Sums {
  readonly present: Uint32Array
  readonly moments: Float64Array
}
const [SUM, CARRY, LEAST, MOST, EACH] = [0, 1, 2, 3, 4]

/** Where a code belongs: `of[code]` is its node; `NO_NODE` where its rows are left out. */
export interface Nodes {
  readonly of: Uint32Array
  readonly size: number
}
export const NO_NODE = 0xffffffff

/** The rows among some that have a value; null: all. */
export function presentRows({ missing }: Column, among: Bits | null, rows: number): Bits | null {
  if (!missing) return among
  const present = among ? among.slice() : fullBits(rows)
  andNotInto(present, missing)
  return present
}

type Numbers = Float64Array | Int32Array

/** Columns that can be reckoned with. */
export type Summable = NumberColumn | WideColumn | BooleanColumn | DigitColumn

/** A column's values as numbers: yes is 1 and no is 0, and whole numbers of 64 bits are the nearest doubles. */
export function numbersOf(column: Summable, rows: number): Numbers {
  if (column.kind === 'number') return column.values
  if (column.kind === 'wide') return Float64Array.from(column.values, Number)
  if (isDigitColumn(column)) {
    const values = Float64Array.from({ length: textCount(column.texts) }, (_, at) =>
      Number(textAt(column.texts, at)),
    )
    return column.kind === 'coded' ? Float64Array.from(column.codes, code => values[code]) : values
  }
  return Int32Array.from({ length: rows }, (_, row) => (hasBit(column.values, row) ? 1 : 0))
}

/** Runs a pass in slices that begin with a word of bits. */
function* inSlices(rows: number, some: (from: number, to: number) => void): Work<void> {
  for (let from = 0; from < rows; from += SLICE) {
    some(from, Math.min(rows, from + SLICE))
    yield
  }
}

/** How many of some rows (null: all) have each code. */
export function* countRows({ codes, size }: Codes, among: Bits | null): Work<Uint32Array> {
  const counts = new Uint32Array(size + 1)
  yield* inSlices(codes.length, (from, to) =>
    among ? countSome(codes, among, counts, from, to) : countAll(codes, counts, from, to),
  )
  return counts
}

/** Up to so many codes rows are counted in four lists in turn: few codes recur at once, and a count waits for the one before. */
const FEW_CODES = 1 << 12

function countAll(codes: Uint32Array, counts: Uint32Array, from: number, to: number): void {
  const { length } = counts
  let row = from
  if (length <= FEW_CODES) {
    const [second, third, fourth] = [1, 2, 3].map(() => new Uint32Array(length))
    for (; row + 3 < to; row += 4) {
      counts[codes[row]]++
      second[codes[row + 1]]++
      third[codes[row + 2]]++
      fourth[codes[row + 3]]++
    }
    for (let code = 0; code < length; code++) counts[code] += second[code] + third[code] + fourth[code]
  }
  for (; row < to; row++) counts[codes[row]]++
}
function countSome(codes: Uint32Array, among: Bits, counts: Uint32Array, from: number, to: number): void {
  for (let w = from >>> 5; w << 5 < to; w++)
    for (let left = among[w]; left !== 0; left &= left - 1)
      counts[codes[(w << 5) + 31 - Math.clz32(left & -left)]]++
}

/**
 * Sums and extremes by code of the rows among some (null: all); `present`: how many of them have a value. Rows are gone
 * through in their own order, whatever is shown.
 */
export function* sumRows(
  { codes, size }: Codes,
  column: Summable,
  among: Bits | null,
  counts: Uint32Array,
): Work<Sums> {
  const values = numbersOf(column, codes.length)
  const present = presentRows(column, among, codes.length)
  const moments = noMoments(size + 1)
  yield* inSlices(codes.length, (from, to) => {
    if (present) addSome(codes, values, present, moments, from, to)
    else addAll(codes, values, moments, from, to)
  })
  return { present: counts, moments }
}

function noMoments(size: number): Float64Array {
  const moments = new Float64Array(size * EACH)
  for (let at = 0; at < moments.length; at += EACH) {
    moments[at + LEAST] = Infinity
    moments[at + MOST] = -Infinity
  }
  return moments
}

function addAll(codes: Uint32Array, values: Numbers, moments: Float64Array, from: number, to: number): void {
  for (let row = from; row < to; row++) {
    const at = codes[row] * 4
    const value = values[row]
    const before = moments[at]
    const after = before + value
    const added = after - before
    moments[at + 1] += before - (after - added) + (value - added)
    moments[at] = after
    if (value < moments[at + 2]) moments[at + 2] = value
    if (value > moments[at + 3]) moments[at + 3] = value
  }
}
function addSome(
  codes: Uint32Array,
  values: Numbers,
  present: Bits,
  moments: Float64Array,
  from: number,
  to: number,
): void {
  for (let w = from >>> 5; w << 5 < to; w++) {
    for (let left = present[w]; left !== 0; left &= left - 1) {
      const row = (w << 5) + 31 - Math.clz32(left & -left)
      const at = codes[row] * 4
      const value = values[row]
      const before = moments[at]
      const after = before + value
      const added = after - before
      moments[at + 1] += before - (after - added) + (value - added)
      moments[at] = after
      if (value < moments[at + 2]) moments[at + 2] = value
      if (value > moments[at + 3]) moments[at + 3] = value
    }
  }
}

/** By code: the sum of the squared distances of its values from their mean. A second pass, so that nothing cancels out. */
export function* squareRows(
  { codes, size }: Codes,
  column: Summable,
  among: Bits | null,
  sums: Sums,
): Work<Float64Array> {
  const values = numbersOf(column, codes.length)
  const present = presentRows(column, among, codes.length)
  const means = Float64Array.from(sums.present, (count, code) => sumAt(sums, code) / count)
  const squares = new Float64Array(size + 1)
  yield* inSlices(codes.length, (from, to) => {
    for (let row = from; row < to; row++) {
      if (present && !hasBit(present, row)) continue
      const code = codes[row]
      const off = values[row] - means[code]
      squares[code] += off * off
    }
  })
  return squares
}

/** Sums and extremes of nodes from those of their codes. */
export function mergeSums({ present, moments }: Sums, { of, size }: Nodes): Sums {
  const counts = new Uint32Array(size)
  const out = noMoments(size)
  for (let code = 0; code < of.length; code++) {
    if (of[code] === NO_NODE) continue
    counts[of[code]] += present[code]
    const [from, to] = [code * EACH, of[code] * EACH]
    const before = out[to + SUM]
    const value = moments[from + SUM]
    const after = before + value
    const added = after - before
    out[to + CARRY] += moments[from + CARRY] + (before - (after - added) + (value - added))
    out[to + SUM] = after
    out[to + LEAST] = Math.min(out[to + LEAST], moments[from + LEAST])
    out[to + MOST] = Math.max(out[to + MOST], moments[from + MOST])
  }
  return { present: counts, moments: out }
}

/** Squares of nodes: those within their codes, and those of the codes' means from the node's (Chan et al. 1979). */
export function mergeSquares(squares: Float64Array, byCode: Sums, nodes: Nodes, byNode: Sums): Float64Array {
  const out = new Float64Array(nodes.size)
  for (let code = 0; code < nodes.of.length; code++) {
    const node = nodes.of[code]
    const count = byCode.present[code]
    if (node === NO_NODE || count === 0) continue
    const mean = sumAt(byNode, node) / byNode.present[node]
    const off = sumAt(byCode, code) / count - mean
    out[node] += squares[code] + count * off * off
  }
  return out
}

/** Counts of nodes from those of their codes. */
export function mergeCounts(counts: Uint32Array, { of, size }: Nodes): Uint32Array {
  const out = new Uint32Array(size)
  for (let code = 0; code < of.length; code++) if (of[code] !== NO_NODE) out[of[code]] += counts[code]
  return out
}

/** What values add up to; sums beyond the range of doubles carry nothing. */
export function sumAt({ moments }: Sums, at: number): number {
  const sum = moments[at * EACH + SUM]
  return Number.isFinite(sum) ? sum + moments[at * EACH + CARRY] : sum
}

export const leastAt = ({ moments }: Sums, at: number): number => moments[at * EACH + LEAST]
export const mostAt = ({ moments }: Sums, at: number): number => moments[at * EACH + MOST]

/** Exact sums by code, in whole units of the last of `scale` decimals. */
export interface ExactSums {
  readonly units: readonly bigint[]
  readonly scale: number
}

/** Exact sums of numbers that doubles cannot tell apart. */
export function* exactSums(
  { codes, size }: Codes,
  column: WideColumn | DigitColumn,
  among: Bits | null,
): Work<ExactSums> {
  const present = presentRows(column, among, codes.length)
  const { unitsAt, scale } = yield* unitsOf(column)
  const units = new Array<bigint>(size + 1).fill(0n)
  yield* inSlices(codes.length, (from, to) => {
    for (let row = from; row < to; row++)
      if (!present || hasBit(present, row)) units[codes[row]] += unitsAt(row)
  })
  return { units, scale }
}

/** A column's numbers in whole units of their last decimal. */
function* unitsOf(
  column: WideColumn | DigitColumn,
): Work<{ unitsAt: (row: number) => bigint; scale: number }> {
  if (column.kind === 'wide') return { unitsAt: row => column.values[row], scale: 0 }
  const count = textCount(column.texts)
  const digits = new Array<string>(count)
  let scale = 0
  for (let at = 0; at < count; at++) {
    digits[at] = textAt(column.texts, at)
    scale = Math.max(scale, decimalsOfDigits(digits[at]))
    if ((at & 4095) === 4095) yield
  }
  const units = new Array<bigint>(count)
  for (let at = 0; at < count; at++) {
    units[at] = unitsOfDigits(digits[at], scale)
    if ((at & 4095) === 4095) yield
  }
  const unitsAt =
    column.kind === 'coded' ? (row: number) => units[column.codes[row]] : (row: number) => units[row]
  return { unitsAt, scale }
}

/** Sums of some codes taken into those of all. */
export function patchedExact(before: ExactSums, again: ExactSums, codes: Uint8Array): ExactSums {
  const scale = Math.max(before.scale, again.scale)
  const scaled = ({ units, scale: own }: ExactSums, code: number): bigint =>
    units[code] * 10n ** BigInt(scale - own)
  return { units: before.units.map((_, code) => scaled(codes[code] === 1 ? again : before, code)), scale }
}
