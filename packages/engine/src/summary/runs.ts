import type { Codes } from '../order/counting.ts'
import { NO_NODE, type Nodes } from './sums.ts'
import type { Bits } from '../table/bits.ts'
import { hasBit } from '../table/bits.ts'
import type { NumberColumn } from '../table/column.ts'
import type { Work } from '../work/work.ts'

/** Rows that stand group by group: group `g` is `rows[starts[g]]` up to `rows[starts[g + 1]]`. */
export interface Runs {
  /** Null: all rows as they stand in the table. */
  readonly rows: Uint32Array | null
  readonly starts: Uint32Array
}

/** No row: no row of a group has a value. */
export const NO_ROW = 0xffffffff

/** Rows after which long work gives way. */
const PAUSE_ROWS = 1 << 17

/** Goes through groups, and gives way now and then. */
function* eachRun({ starts }: Runs, visit: (group: number, from: number, to: number) => void): Work<void> {
  let done = 0
  for (let group = 0; group + 1 < starts.length; group++) {
    visit(group, starts[group], starts[group + 1])
    done += 1 + starts[group + 1] - starts[group]
    if (done < PAUSE_ROWS) continue
    done = 0
    yield
  }
}

/**
 * By group: the values below which a part of the values lies, between two of them where it falls between; NaN where no
 * row has a value. Each group's values are gathered, which fits the caches where sorting all rows does not, and the
 * wanted ones selected (Floyd and Rivest 1975 without the sampling: Hoare's quickselect).
 */
export function* quantiles(runs: Runs, { values, missing }: NumberColumn, at: number): Work<Float64Array> {
  const { rows, starts } = runs
  const out = new Float64Array(starts.length - 1).fill(NaN)
  let scratch = new Float64Array(1024)
  yield* eachRun(runs, (group, from, to) => {
    if (scratch.length < to - from) scratch = new Float64Array(to - from)
    const count = gather(rows, values, missing, from, to, scratch)
    if (count > 0) out[group] = quantileOf(scratch, count, at)
  })
  return out
}

function gather(
  rows: Uint32Array | null,
  values: Float64Array | Int32Array,
  missing: Bits | null,
  from: number,
  to: number,
  into: Float64Array,
): number {
  let count = 0
  if (!missing && rows) {
    for (let i = from; i < to; i++) into[count++] = values[rows[i]]
    return count
  }
  for (let i = from; i < to; i++) {
    const row = rows ? rows[i] : i
    if (!missing || !hasBit(missing, row)) into[count++] = values[row]
  }
  return count
}

/** The quantile of the first values of a list, whose order is lost. */
function quantileOf(values: Float64Array, count: number, at: number): number {
  const exact = (count - 1) * at
  const below = Math.floor(exact)
  select(values, 0, count - 1, below)
  const low = values[below]
  if (exact === below) return low
  let high = Infinity
  for (let i = below + 1; i < count; i++) if (values[i] < high) high = values[i]
  // Halfway is what a median is; elsewhere the nearer value weighs more.
  return exact - below === 0.5 ? low + (high - low) / 2 : low + (high - low) * (exact - below)
}

/** Puts the value of rank `k` at its place, lower ones before it and higher ones behind. */
function select(values: Float64Array, from: number, to: number, k: number): void {
  let [left, right] = [from, to]
  while (right > left) {
    const middle = (left + right) >>> 1
    const [a, b, c] = [values[left], values[middle], values[right]]
    const pivot = a < b ? (b < c ? b : Math.max(a, c)) : a < c ? a : Math.max(b, c)
    let [i, j] = [left, right]
    while (i <= j) {
      while (values[i] < pivot) i++
      while (values[j] > pivot) j--
      if (i > j) break
      const held = values[i]
      values[i++] = values[j]
      values[j--] = held
    }
    if (k <= j) right = j
    else if (k >= i) left = i
    else return
  }
}

/** By group: how many different values its rows have. `ranks`: the column's codes. One look a row. */
export function* distincts(runs: Runs, ranks: Codes): Work<Uint32Array> {
  const { rows, starts } = runs
  const { codes, size } = ranks
  const out = new Uint32Array(starts.length - 1)
  /** By code: the group, counted from 1, that saw it last. */
  const seen = new Uint32Array(size + 1)
  yield* eachRun(runs, (group, from, to) => {
    out[group] = rows
      ? differentOf(rows, codes, size, seen, group + 1, from, to)
      : differentIn(codes, size, seen, group + 1, from, to)
  })
  return out
}

function differentOf(
  rows: Uint32Array,
  codes: Uint32Array,
  size: number,
  seen: Uint32Array,
  mark: number,
  from: number,
  to: number,
): number {
  let different = 0
  for (let i = from; i < to; i++) {
    const code = codes[rows[i]]
    if (seen[code] === mark || code === size) continue
    seen[code] = mark
    different++
  }
  return different
}
function differentIn(
  codes: Uint32Array,
  size: number,
  seen: Uint32Array,
  mark: number,
  from: number,
  to: number,
): number {
  let different = 0
  for (let i = from; i < to; i++) {
    const code = codes[i]
    if (seen[code] === mark || code === size) continue
    seen[code] = mark
    different++
  }
  return different
}

/** By node: how many different values its rows among some (null: all) have. A byte for each pair; rows as they lie. */
export function* distinctPairs(
  codes: Uint32Array,
  { of, size }: Nodes,
  ranks: Codes,
  among: Bits | null,
): Work<Uint32Array> {
  const places = ranks.size + 1
  // One place more takes the rows that are left out.
  const seen = new Uint8Array((size + 1) * places)
  const starts = of.map(node => (node === NO_NODE ? size : node) * places)
  for (let from = 0; from < codes.length; from += PAUSE_ROWS) {
    const to = Math.min(codes.length, from + PAUSE_ROWS)
    if (among) markSome(codes, starts, ranks.codes, among, seen, from, to)
    else markAll(codes, starts, ranks.codes, seen, from, to)
    yield
  }
  const out = new Uint32Array(size)
  for (let node = 0; node < size; node++)
    for (let at = node * places, end = at + ranks.size; at < end; at++) out[node] += seen[at]
  return out
}

function markAll(
  codes: Uint32Array,
  starts: Uint32Array,
  ranks: Uint32Array,
  seen: Uint8Array,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) seen[starts[codes[row]] + ranks[row]] = 1
}
function markSome(
  codes: Uint32Array,
  starts: Uint32Array,
  ranks: Uint32Array,
  among: Bits,
  seen: Uint8Array,
  from: number,
  to: number,
): void {
  for (let row = from; row < to; row++) if (hasBit(among, row)) seen[starts[codes[row]] + ranks[row]] = 1
}

/** By group: a row that has the value which most of its rows have; of several such the least value. */
export function* frequents(runs: Runs, { codes, size }: Codes): Work<Uint32Array> {
  const { rows, starts } = runs
  const out = new Uint32Array(starts.length - 1).fill(NO_ROW)
  const counts = new Uint32Array(size + 1)
  yield* eachRun(runs, (group, from, to) => {
    for (let i = from; i < to; i++) counts[codes[rows ? rows[i] : i]]++
    let [most, best] = [0, size]
    for (let i = from; i < to; i++) {
      const row = rows ? rows[i] : i
      const code = codes[row]
      const count = counts[code]
      counts[code] = 0
      if (code === size || count === 0 || count < most || (count === most && code > best)) continue
      ;[most, best, out[group]] = [count, code, row]
    }
  })
  return out
}

/** By group: a row that has the value which all of its rows have; none where they differ or one has no value. */
export function* sames(runs: Runs, { codes, size }: Codes): Work<Uint32Array> {
  const { rows, starts } = runs
  const out = new Uint32Array(starts.length - 1).fill(NO_ROW)
  yield* eachRun(runs, (group, from, to) => {
    const first = rows ? rows[from] : from
    const code = codes[first]
    if (to === from || code === size) return
    for (let i = from + 1; i < to; i++) if (codes[rows ? rows[i] : i] !== code) return
    out[group] = first
  })
  return out
}

/** By group: its first row, or last, that has a value. */
export function* ends(runs: Runs, missing: Bits | null, last: boolean): Work<Uint32Array> {
  const { rows, starts } = runs
  const out = new Uint32Array(starts.length - 1).fill(NO_ROW)
  const step = last ? -1 : 1
  yield* eachRun(runs, (group, from, to) => {
    for (let i = last ? to - 1 : from; i >= from && i < to; i += step) {
      const row = rows ? rows[i] : i
      if (missing && hasBit(missing, row)) continue
      out[group] = row
      return
    }
  })
  return out
}

/** By group: a row that has its least value, or greatest, by the column's codes. */
export function* outermosts(runs: Runs, { codes, size }: Codes, most: boolean): Work<Uint32Array> {
  const { rows, starts } = runs
  const out = new Uint32Array(starts.length - 1).fill(NO_ROW)
  yield* eachRun(runs, (group, from, to) => {
    let best = -1
    for (let i = from; i < to; i++) {
      const row = rows ? rows[i] : i
      const code = codes[row]
      if (code === size || (best >= 0 && (most ? code <= best : code >= best))) continue
      best = code
      out[group] = row
    }
  })
  return out
}
