import { mergeInto, placesOf } from '../order/merge-rows.ts'
import { emptyBits, hasBit, setBit, type Bits } from '../table/bits.ts'
import type { Work } from '../work/work.ts'
import type { GroupTree, OrderedLevel } from './group-tree.ts'

/** Rows that stand group by group. */
export interface GatheredRows {
  /** Of every row: its code. */
  readonly codes: Uint32Array
  readonly tree: GroupTree
  readonly order: readonly OrderedLevel[]
  /** By place of a lowest group: where it begins. */
  readonly starts: Uint32Array
}

/** What became of rows since they were gathered. */
export interface MovedRows {
  /** Those that are in another group, in none or in one at last, or that are ordered otherwise; ascending. */
  readonly rows: Uint32Array
  /** Which rows are in groups now; null: all are. */
  readonly among: Bits | null
  /** How rows of a group are ordered. */
  readonly compare: (a: number, b: number) => number
}

const NONE = 0xffffffff
/** Rows after which long work gives way. */
const PAUSE_ROWS = 1 << 17

/**
 * Rows gathered group by group once more after some have moved: the rows of groups that none of them left or entered are
 * copied together, of others the moved ones are taken out and put in. Codes must stand for the same before and after,
 * and each for a group of its own. Linear in the groups and the rows of groups that changed, and a copy of the others.
 * Null: a group was held back before, so that nobody has its rows.
 */
export function* gatherAgain(
  before: GatheredRows,
  gathered: Uint32Array,
  now: GatheredRows,
  moved: MovedRows,
): Work<Uint32Array | null> {
  const placeBefore = placesByCode(before)
  const rowCount = now.codes.length
  const { coming, changed, moving } = comingRows(before, now, moved, rowCount)
  const codeAt = codesByPlace(now)
  const out = new Uint32Array(now.tree.rows)
  /** Rows that are copied together: where they began before, and where they begin now. */
  let [from, to, at] = [0, 0, 0]
  let done = 0
  for (let place = 0; place < codeAt.length; place++) {
    const code = codeAt[place]
    const old = placeBefore[code]
    if (old === NONE && before.tree.counts[code] > 0) return null
    const [start, end] = old === NONE ? [0, 0] : [before.starts[old], before.starts[old + 1]]
    const arrivals = coming.get(code)
    if (!arrivals && changed[code] === 0) {
      if (start !== to) {
        out.set(gathered.subarray(from, to), at)
        at += to - from
        from = start
      }
      to = end
      continue
    }
    out.set(gathered.subarray(from, to), at)
    at += to - from
    ;[from, to] = [0, 0]
    const gone: number[] = []
    placesOf(gathered, moving, gone, start, end, start)
    const arrived = Uint32Array.from(arrivals ?? []).sort(moved.compare)
    mergeInto(out, at, { rows: gathered.subarray(start, end), gone }, arrived, moved.compare)
    at += end - start - gone.length + arrived.length
    done += end - start
    if (done < PAUSE_ROWS) continue
    done = 0
    yield
  }
  out.set(gathered.subarray(from, to), at)
  return out
}

/** Whether each code with rows is a group of its own. */
export const eachCodeAGroup = ({ levels, sequence }: GroupTree): boolean =>
  levels[levels.length - 1].size === sequence.length

/** By place of a lowest group: its code. */
function codesByPlace({ tree, order }: GatheredRows): Uint32Array {
  const lowest = order[order.length - 1]
  return lowest.nodes ? lowest.nodes.map(node => tree.sequence[node]) : tree.sequence
}

/** By code: the place of its group; `NONE`: it has none. */
function placesByCode(gathered: GatheredRows): Uint32Array {
  const places = new Uint32Array(gathered.tree.counts.length).fill(NONE)
  codesByPlace(gathered).forEach((code, place) => (places[code] = place))
  return places
}

/** Of moved rows: where they go, by code, which codes they left, and which rows they are. */
function comingRows(
  before: GatheredRows,
  { codes, tree }: GatheredRows,
  { rows, among }: MovedRows,
  rowCount: number,
): { coming: Map<number, number[]>; changed: Uint8Array; moving: Bits } {
  const moving = emptyBits(rowCount)
  const changed = new Uint8Array(tree.counts.length)
  const coming = new Map<number, number[]>()
  for (const row of rows) {
    setBit(moving, row)
    if (row < before.codes.length) changed[before.codes[row]] = 1
    if (among && !hasBit(among, row)) continue
    const arrivals = coming.get(codes[row])
    if (arrivals) arrivals.push(row)
    else coming.set(codes[row], [row])
  }
  return { coming, changed, moving }
}
