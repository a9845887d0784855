import { andNotInto, countBits, fullBits, hasBit, listBits, type Bits } from '../table/bits.ts'
import type { Column } from '../table/column.ts'
import { countingSort, sortByCodes, type Codes } from '../order/counting.ts'
import { SLICE, type Work } from '../work/work.ts'

/** Of every group: how many of its rows have a value, and what these come to. NaN where none has. */
export interface Measures {
  readonly count: Uint32Array
  readonly sum: Float64Array
  readonly min: Float64Array
  readonly max: Float64Array
  readonly mean: Float64Array
}

/** Runs of rows whose sums are taken apart and then added up, so that whoever adds them comes to the same sum. */
const PARTS = 8
/** More groups than this have their sums taken in one run, which costs less memory than it would save time. */
const MOST_SPLIT = 1 << 12

/**
 * Count, sum, least, largest and mean of a number column by group. `by`: each row's group; `among`: the rows that
 * count (null: all). Rows are gone through in their own order, whatever order they are shown in.
 */
export function* measures(by: Codes, column: Column, among: Bits | null): Work<Measures> {
  const groups = by.size + 1
  const parts = groups <= MOST_SPLIT ? PARTS : 1
  const made = {
    count: new Uint32Array(groups),
    sum: new Float64Array(groups * parts),
    min: new Float64Array(groups).fill(Infinity),
    max: new Float64Array(groups).fill(-Infinity),
  }
  if (column.kind === 'number') {
    const { length } = column.values
    // A multiple of 32, so that a run begins with a word of bits.
    const each = Math.max(32, Math.ceil(length / parts / 32) * 32)
    const present = presentRows(column, among, length)
    for (let part = 0; part * each < length; part++) {
      const end = Math.min(length, (part + 1) * each)
      for (let from = part * each; from < end; from += SLICE) {
        const to = Math.min(end, from + SLICE)
        if (present) measureSome(by.codes, column.values, present, made, part * groups, from, to)
        else measureAll(by.codes, column.values, made, part * groups, from, to)
        yield
      }
    }
  }
  const { count, min, max } = made
  const sum = new Float64Array(groups)
  const mean = new Float64Array(groups)
  for (let g = 0; g < groups; g++) {
    for (let part = 0; part < parts; part++) sum[g] += made.sum[part * groups + g]
    mean[g] = sum[g] / count[g]
    if (count[g] === 0) sum[g] = min[g] = max[g] = NaN
  }
  return { count, sum, min, max, mean }
}

/** The rows among some that have a value; null: all. */
function presentRows({ missing }: Column, among: Bits | null, rows: number): Bits | null {
  if (!missing) return among
  const present = among ? among.slice() : fullBits(rows)
  andNotInto(present, missing)
  return present
}

type Filled = Pick<Measures, 'count' | 'sum' | 'min' | 'max'>

function measureAll(
  codes: Uint32Array,
  values: Float64Array | Int32Array,
  { count, sum, min, max }: Filled,
  base: number,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) {
    const group = codes[row]
    const value = values[row]
    count[group]++
    sum[base + group] += value
    if (value < min[group]) min[group] = value
    if (value > max[group]) max[group] = value
  }
}

function measureSome(
  codes: Uint32Array,
  values: Float64Array | Int32Array,
  present: Bits,
  { count, sum, min, max }: Filled,
  base: number,
  from: number,
  to: number,
): void {
  for (let w = from >>> 5; w << 5 < to; w++) {
    for (let left = present[w]; left !== 0; left &= left - 1) {
      const row = (w << 5) + 31 - Math.clz32(left & -left)
      if (row >= to) return
      const group = codes[row]
      const value = values[row]
      count[group]++
      sum[base + group] += value
      if (value < min[group]) min[group] = value
      if (value > max[group]) max[group] = value
    }
  }
}

/**
 * The median of a number column by group; NaN where no row has a value. `ranks`: the column's codes, which sort like
 * its values. Two sorts: by value, then by group, after which each group's middle is known.
 */
export function* medians(by: Codes, column: Column, ranks: Codes, among: Bits | null): Work<Float64Array> {
  const out = new Float64Array(by.size + 1).fill(NaN)
  if (column.kind !== 'number') return out
  const { values } = column
  const { rows, ends } = yield* byGroupAndValue(by, column, ranks, among)
  let start = 0
  for (let group = 0; group < ends.length; group++) {
    const count = ends[group] - start
    const middle = start + (count >>> 1)
    if (count > 0)
      out[group] =
        count % 2 === 1 ? values[rows[middle]] : (values[rows[middle - 1]] + values[rows[middle]]) / 2
    start = ends[group]
  }
  return out
}

/** Pairs of a group and a value up to which each has a byte; 32 MB. */
const MOST_PAIRS = 1 << 25

/** How many different values the rows of every group have. `ranks`: the column's codes. */
export function* distinctCounts(
  by: Codes,
  column: Column,
  ranks: Codes,
  among: Bits | null,
): Work<Uint32Array> {
  const groups = by.size + 1
  // One place more, for rows without a value; it is not counted.
  const places = ranks.size + 1
  if (groups * places > MOST_PAIRS) return yield* distinctBySorting(by, column, ranks, among)
  const seen = new Uint8Array(groups * places)
  const { codes } = ranks
  for (let from = 0; from < codes.length; from += SLICE) {
    const to = Math.min(codes.length, from + SLICE)
    if (among) markSome(by.codes, codes, places, among, seen, from, to)
    else markAll(by.codes, codes, places, seen, from, to)
    yield
  }
  const out = new Uint32Array(groups)
  for (let group = 0, at = 0; group < groups; group++, at++)
    for (const end = at + ranks.size; at < end; at++) out[group] += seen[at]
  return out
}

function markAll(
  groups: Uint32Array,
  codes: Uint32Array,
  places: number,
  seen: Uint8Array,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) seen[groups[row] * places + codes[row]] = 1
}
function markSome(
  groups: Uint32Array,
  codes: Uint32Array,
  places: number,
  among: Bits,
  seen: Uint8Array,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) if (hasBit(among, row)) seen[groups[row] * places + codes[row]] = 1
}

function* distinctBySorting(by: Codes, column: Column, ranks: Codes, among: Bits | null): Work<Uint32Array> {
  const { rows, ends } = yield* byGroupAndValue(by, column, ranks, among)
  const out = new Uint32Array(by.size + 1)
  let start = 0
  for (let group = 0; group < ends.length; group++) {
    for (let i = start; i < ends[group]; i++)
      if (i === start || ranks.codes[rows[i]] !== ranks.codes[rows[i - 1]]) out[group]++
    start = ends[group]
    if (group % SLICE === SLICE - 1) yield
  }
  return out
}

/** Rows that have a value, gathered by group and within it by value. */
function* byGroupAndValue(
  by: Codes,
  column: Column,
  ranks: Codes,
  among: Bits | null,
): Work<{ readonly rows: Uint32Array; readonly ends: Uint32Array }> {
  const present = presentRows(column, among, by.codes.length)
  const rows = present && listBits(present, countBits(present))
  return yield* countingSort(by, yield* sortByCodes(ranks, rows, false), false)
}
