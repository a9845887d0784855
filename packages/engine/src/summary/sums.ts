import type { Codes } from '../order/counting.ts'
import { andNotInto, fullBits, hasBit, type Bits } from '../table/bits.ts'
import type { BooleanColumn, Column, NumberColumn, WideColumn } from '../table/column.ts'
import { SLICE, type Work } from '../work/work.ts'

/**
 * Of every code: how many rows have a value, and what these add up to. `sum + carry` is the sum; what adding to `sum`
 * loses is kept in `carry` (Neumaier 1974).
 */
export interface Sums {
  readonly present: Uint32Array
  readonly sum: Float64Array
  readonly carry: Float64Array
}

/** Of every code: its least and greatest value; `Infinity` and `-Infinity` where no row has one. */
export interface Extremes {
  readonly least: Float64Array
  readonly most: Float64Array
}

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
export type Summable = NumberColumn | WideColumn | BooleanColumn

/** A column's values as numbers: yes is 1 and no is 0, and whole numbers of 64 bits are the nearest doubles. */
export function numbersOf(column: Summable, rows: number): Numbers {
  if (column.kind === 'number') return column.values
  if (column.kind === 'wide') return Float64Array.from(column.values, Number)
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

function countAll(codes: Uint32Array, counts: Uint32Array, from: number, to: number): void {
  for (let row = from; row < to; row++) counts[codes[row]]++
}
function countSome(codes: Uint32Array, among: Bits, counts: Uint32Array, from: number, to: number): void {
  for (let w = from >>> 5; w << 5 < to; w++)
    for (let left = among[w]; left !== 0; left &= left - 1)
      counts[codes[(w << 5) + 31 - Math.clz32(left & -left)]]++
}

/** Sums by code of the rows among some (null: all). Rows are gone through in their own order, whatever is shown. */
export function* sumRows(by: Codes, column: Summable, among: Bits | null): Work<Sums> {
  const { codes, size } = by
  const values = numbersOf(column, codes.length)
  const present = presentRows(column, among, codes.length)
  const counts = yield* countRows(by, present)
  const sum = new Float64Array(size + 1)
  const carry = new Float64Array(size + 1)
  yield* inSlices(codes.length, (from, to) =>
    present
      ? addSome(codes, values, present, sum, carry, from, to)
      : addAll(codes, values, sum, carry, from, to),
  )
  return { present: counts, sum, carry }
}

function addAll(
  codes: Uint32Array,
  values: Numbers,
  sum: Float64Array,
  carry: Float64Array,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) {
    const code = codes[row]
    const value = values[row]
    const before = sum[code]
    const after = before + value
    carry[code] += Math.abs(before) >= Math.abs(value) ? before - after + value : value - after + before
    sum[code] = after
  }
}
function addSome(
  codes: Uint32Array,
  values: Numbers,
  present: Bits,
  sum: Float64Array,
  carry: Float64Array,
  from: number,
  to: number,
): void {
  for (let w = from >>> 5; w << 5 < to; w++) {
    for (let left = present[w]; left !== 0; left &= left - 1) {
      const row = (w << 5) + 31 - Math.clz32(left & -left)
      const code = codes[row]
      const value = values[row]
      const before = sum[code]
      const after = before + value
      carry[code] += Math.abs(before) >= Math.abs(value) ? before - after + value : value - after + before
      sum[code] = after
    }
  }
}

/** Least and greatest values by code. */
export function* extremeRows(
  { codes, size }: Codes,
  column: NumberColumn,
  among: Bits | null,
): Work<Extremes> {
  const { values } = column
  const present = presentRows(column, among, codes.length)
  const least = new Float64Array(size + 1).fill(Infinity)
  const most = new Float64Array(size + 1).fill(-Infinity)
  yield* inSlices(codes.length, (from, to) => {
    if (!present) { boundAll(codes, values, least, most, from, to); return; }
    boundSome(codes, values, present, least, most, from, to)
  })
  return { least, most }
}

function boundAll(
  codes: Uint32Array,
  values: Numbers,
  least: Float64Array,
  most: Float64Array,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) {
    const code = codes[row]
    const value = values[row]
    if (value < least[code]) least[code] = value
    if (value > most[code]) most[code] = value
  }
}
function boundSome(
  codes: Uint32Array,
  values: Numbers,
  present: Bits,
  least: Float64Array,
  most: Float64Array,
  from: number,
  to: number,
): void {
  for (let w = from >>> 5; w << 5 < to; w++) {
    for (let left = present[w]; left !== 0; left &= left - 1) {
      const row = (w << 5) + 31 - Math.clz32(left & -left)
      const code = codes[row]
      const value = values[row]
      if (value < least[code]) least[code] = value
      if (value > most[code]) most[code] = value
    }
  }
}

/** By code: the sum of the squared distances of its values from their mean. A second pass, so that nothing cancels out. */
export function* squareRows(
  { codes, size }: Codes,
  column: Summable,
  among: Bits | null,
  { present: counts, sum, carry }: Sums,
): Work<Float64Array> {
  const values = numbersOf(column, codes.length)
  const present = presentRows(column, among, codes.length)
  const means = sum.map((value, code) => (value + carry[code]) / counts[code])
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

/** Sums of nodes from those of their codes. */
export function mergeSums({ present, sum, carry }: Sums, { of, size }: Nodes): Sums {
  const out = {
    present: new Uint32Array(size),
    sum: new Float64Array(size),
    carry: new Float64Array(size),
  }
  for (let code = 0; code < of.length; code++) {
    const node = of[code]
    if (node === NO_NODE) continue
    out.present[node] += present[code]
    const before = out.sum[node]
    const value = sum[code]
    const after = before + value
    out.carry[node] +=
      carry[code] + (Math.abs(before) >= Math.abs(value) ? before - after + value : value - after + before)
    out.sum[node] = after
  }
  return out
}

export function mergeExtremes({ least, most }: Extremes, { of, size }: Nodes): Extremes {
  const out = {
    least: new Float64Array(size).fill(Infinity),
    most: new Float64Array(size).fill(-Infinity),
  }
  for (let code = 0; code < of.length; code++) {
    const node = of[code]
    if (node === NO_NODE) continue
    if (least[code] < out.least[node]) out.least[node] = least[code]
    if (most[code] > out.most[node]) out.most[node] = most[code]
  }
  return out
}

/** Squares of nodes: those within their codes, and those of the codes' means from the node's (Chan et al. 1979). */
export function mergeSquares(squares: Float64Array, byCode: Sums, nodes: Nodes, byNode: Sums): Float64Array {
  const out = new Float64Array(nodes.size)
  for (let code = 0; code < nodes.of.length; code++) {
    const node = nodes.of[code]
    const count = byCode.present[code]
    if (node === NO_NODE || count === 0) continue
    const mean = (byNode.sum[node] + byNode.carry[node]) / byNode.present[node]
    const off = (byCode.sum[code] + byCode.carry[code]) / count - mean
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
export const sumAt = ({ sum, carry }: Sums, at: number): number =>
  Number.isFinite(sum[at]) ? sum[at] + carry[at] : sum[at]

/** Exact sums of whole numbers of 64 bits. */
export function* wideSums(
  { codes, size }: Codes,
  column: WideColumn,
  among: Bits | null,
): Work<bigint[]> {
  const present = presentRows(column, among, codes.length)
  const sums = new Array<bigint>(size + 1).fill(0n)
  yield* inSlices(codes.length, (from, to) => {
    for (let row = from; row < to; row++)
      if (!present || hasBit(present, row)) sums[codes[row]] += column.values[row]
  })
  return sums
}
