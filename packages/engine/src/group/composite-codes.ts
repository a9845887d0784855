import { sortByCodes, type Codes } from '../order/counting.ts'
import { SLICE, type Work } from '../work/work.ts'

/** Combinations up to which each has a place of its own in a table. */
const DENSE = 1 << 24

/**
 * Codes of several columns taken together, which sort as the columns do one after another. A missing value counts as
 * its column's last one. Only combinations that occur have a code, so that `size` is how many there are; codes are
 * written for the rows given (null: all), the others hold anything. `dense`: combinations up to which a table of all is made.
 */
export function* compositeCodes(
  columns: readonly Codes[],
  rows: Uint32Array | null,
  dense = DENSE,
): Work<Codes> {
  if (columns.length === 0) throw new RangeError('compositeCodes needs at least one column, got none.')
  // A column on its own has a code more, for rows without a value; combinations count those too.
  let all: Codes = { codes: columns[0].codes, size: columns[0].size + 1 }
  for (const next of columns.slice(1)) {
    if (all.size * (next.size + 1) > dense) all = yield* compacted(all, rows, dense)
    all =
      all.size * (next.size + 1) > dense
        ? yield* sortedPairs(all, next, rows)
        : { codes: yield* paired(all.codes, next, rows), size: all.size * (next.size + 1) }
  }
  return yield* compacted(all, rows, dense)
}

/** Codes of two columns together, in the order of the first and then the second. `out`: where to; the first will do. */
export function* paired(
  first: Uint32Array,
  second: Codes,
  rows: Uint32Array | null,
  out: Uint32Array = new Uint32Array(first.length),
): Work<Uint32Array> {
  const { codes, size } = second
  const count = rows ? rows.length : out.length
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) pairRows(first, codes, size + 1, rows, out, from, to)
    else pairAll(first, codes, size + 1, out, from, to)
    yield
  }
  return out
}

function pairAll(
  first: Uint32Array,
  second: Uint32Array,
  stride: number,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) out[i] = first[i] * stride + second[i]
}
function pairRows(
  first: Uint32Array,
  second: Uint32Array,
  stride: number,
  rows: Uint32Array,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) out[rows[i]] = first[rows[i]] * stride + second[rows[i]]
}

/** Codes without those that no row has; by a table of all, where that is not too large, else by sorting. */
function* compacted(all: Codes, rows: Uint32Array | null, dense: number): Work<Codes> {
  if (all.size > dense) return yield* sortedPairs(all, null, rows)
  const { codes } = all
  const ranks = new Uint32Array(all.size)
  const count = rows ? rows.length : codes.length
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) for (let i = from; i < to; i++) ranks[codes[rows[i]]] = 1
    else for (let i = from; i < to; i++) ranks[codes[i]] = 1
    yield
  }
  let size = 0
  for (let code = 0; code < ranks.length; code++) if (ranks[code] === 1) ranks[code] = size++
  yield
  const out = new Uint32Array(codes.length)
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows) for (let i = from; i < to; i++) out[rows[i]] = ranks[codes[rows[i]]]
    else for (let i = from; i < to; i++) out[i] = ranks[codes[i]]
    yield
  }
  return { codes: out, size }
}

/** Rows sorted by both, equal neighbours sharing a code. */
function* sortedPairs(first: Codes, second: Codes | null, rows: Uint32Array | null): Work<Codes> {
  const bySecond = second ? yield* sortByCodes(second, rows, false) : rows
  const sorted = yield* sortByCodes(first, bySecond, false)
  const a = first.codes
  const b = second?.codes ?? a
  const out = new Uint32Array(a.length)
  let size = 0
  for (let i = 0; i < sorted.length; i++) {
    const row = sorted[i]
    const before = sorted[i - 1]
    if (i === 0 || a[row] !== a[before] || b[row] !== b[before]) size++
    out[row] = size - 1
    if (i % SLICE === SLICE - 1) yield
  }
  return { codes: out, size }
}
