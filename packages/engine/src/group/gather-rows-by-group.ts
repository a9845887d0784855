import { NO_NODE } from '../summary/sums.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { GroupTree, OrderedLevel } from './group-tree.ts'

/**
 * Rows (null: all rows of the table) gathered group by group in the order of the groups, and within a group as they
 * came. Rows of groups that are left out are not among them. One pass: where each group begins is known.
 */
export function* gatherByGroup(
  codes: Uint32Array,
  tree: GroupTree,
  order: readonly OrderedLevel[],
  starts: Uint32Array,
  rows: Uint32Array | null,
): Work<Uint32Array> {
  const lowest = tree.levels.length - 1
  const { of } = tree.nodes[lowest]
  const { nodes } = order[lowest]
  const begins = new Uint32Array(starts.length - 1)
  for (let place = 0; place < begins.length; place++) begins[nodes ? nodes[place] : place] = starts[place]
  const out = new Uint32Array(tree.rows)
  const count = rows ? rows.length : codes.length
  // Where every group is one code and none is left out, one look tells where a row goes.
  const plain = tree.sequence.length === begins.length && count === tree.rows
  const next = plain ? new Uint32Array(of.length) : begins
  if (plain) for (const code of tree.sequence) next[code] = begins[of[code]]
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (!plain) placeKept(codes, of, rows, next, out, from, to)
    else if (rows) placeSome(codes, rows, next, out, from, to)
    else placeAll(codes, next, out, from, to)
    yield
  }
  return out
}

function placeAll(codes: Uint32Array, next: Uint32Array, out: Uint32Array, from: number, to: number): void {
  for (let row = from; row < to; row++) out[next[codes[row]]++] = row
}
function placeSome(
  codes: Uint32Array,
  rows: Uint32Array,
  next: Uint32Array,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const row = rows[i]
    out[next[codes[row]]++] = row
  }
}
function placeKept(
  codes: Uint32Array,
  of: Uint32Array,
  rows: Uint32Array | null,
  next: Uint32Array,
  out: Uint32Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const row = rows ? rows[i] : i
    const node = of[codes[row]]
    if (node !== NO_NODE) out[next[node]++] = row
  }
}
