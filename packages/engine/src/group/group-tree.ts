import type { Codes } from '../order/counting.ts'
import { NO_NODE, type Nodes } from '../summary/sums.ts'
import { hasBit, type Bits } from '../table/bits.ts'
import type { Work } from '../work/work.ts'
import { compositeCodes, paired } from './composite-codes.ts'
import { REST } from './rest.ts'

/** The codes of all levels together, and what each is on every level. */
export interface LevelCodes {
  /** Of every row of the table. */
  readonly combined: Codes
  /**
   * By level and code: the level's own code; its `size` stands for rows without a value. Codes stand for the same as
   * others with the same list.
   */
  readonly parts: readonly Uint32Array[]
}

/** The groups of one level, those of one group of the level above side by side. */
interface TreeLevel {
  readonly size: number
  /** By group: the level's own code, or `REST`. */
  readonly keyOf: Uint32Array
  /** By group: how many rows it has. */
  readonly rows: Uint32Array
  /** By group: the first of its groups on the level below, and past the last how many there are; null on the lowest. */
  readonly children: Uint32Array | null
}

/**
 * The groups of all levels that have rows, in the order of their keys: missing values behind the others, and the rest
 * last. Knows no order of rows or groups, so that what is worked out over it holds under every order.
 */
export interface GroupTree {
  readonly levels: readonly TreeLevel[]
  /** By level: the node that each code's rows are in. */
  readonly nodes: readonly Nodes[]
  /** Codes in the order of the tree. */
  readonly sequence: Uint32Array
  readonly parts: readonly Uint32Array[]
  /** How many rows each code has. */
  readonly counts: Uint32Array
  readonly rows: number
}

/** Codes after which long work gives way. */
const PAUSE = 1 << 17

/** Combinations up to which each has a code, whether it occurs or not. */
const DENSE = 1 << 24
/** Codes that no row has cost a look each: they are taken out where they are more than this, and many beside the rows. */
const FEW = 1 << 16

/** The codes of several levels together; with none, all rows have one. */
export function* combineLevels(levels: readonly Codes[], rows: number): Work<LevelCodes> {
  if (levels.length === 0) return { combined: { codes: new Uint32Array(rows), size: 1 }, parts: [] }
  if (levels.length === 1) {
    const [combined] = levels
    return { combined, parts: [Uint32Array.from({ length: combined.size + 1 }, (_, code) => code)] }
  }
  const sizes = levels.map(({ size }) => size + 1)
  const size = sizes.reduce((all, one) => all * one, 1)
  if (size > DENSE || size > Math.max(FEW, rows / 2))
    return yield* partsByRow(levels, yield* compositeCodes(levels, null))
  const [first, second, ...more] = levels
  const codes = yield* paired(first.codes, second, null)
  for (const next of more) yield* paired(codes, next, null, codes)
  const parts: Uint32Array[] = []
  let stride = size
  for (const one of sizes) {
    stride /= one
    parts.push(recurringParts(one, stride, size))
  }
  return { combined: { codes, size }, parts }
}

/** Of codes that combine several: a level's own, each over `stride` codes in turn, again and again. */
function recurringParts(own: number, stride: number, size: number): Uint32Array {
  // The place past the last stands for no combination.
  const part = new Uint32Array(size + 1).fill(own - 1)
  for (let code = 0; code < own; code++) part.fill(code, code * stride, (code + 1) * stride)
  for (let made = own * stride; made < size; made *= 2) part.copyWithin(made, 0, Math.min(made, size - made))
  return part
}

/**
 * The codes of levels in which some rows have other codes now, or are new. Null: one of them has a combination that had
 * no code. The levels' own codes must stand for what they stood for.
 */
export function followLevels(
  { combined, parts }: LevelCodes,
  levels: readonly Codes[],
  changed: Uint32Array,
  rows: number,
): LevelCodes | null {
  if (levels.length === 0) return { combined: { codes: new Uint32Array(rows), size: 1 }, parts }
  if (levels.length === 1) return { combined: levels[0], parts }
  const codes = new Uint32Array(levels[0].codes.length)
  codes.set(combined.codes)
  for (const row of changed) {
    const code = codeOfParts(
      parts,
      levels.map(level => level.codes[row]),
    )
    if (code === null) return null
    codes[row] = code
  }
  return { combined: { ...combined, codes }, parts }
}

/** Codes sort as what they are on one level after another. */
function codeOfParts(parts: readonly Uint32Array[], wanted: readonly number[]): number | null {
  let [low, high] = [0, parts[0].length]
  const compare = (code: number): number => {
    for (let level = 0; level < wanted.length; level++)
      if (parts[level][code] !== wanted[level]) return parts[level][code] - wanted[level]
    return 0
  }
  while (low < high) {
    const middle = (low + high) >>> 1
    if (compare(middle) < 0) low = middle + 1
    else high = middle
  }
  return low < parts[0].length && compare(low) === 0 ? low : null
}

/** What each combined code is on every level, read off a row that has it. */
function* partsByRow(levels: readonly Codes[], combined: Codes): Work<LevelCodes> {
  const rowOf = new Uint32Array(combined.size + 1)
  const { codes } = combined
  for (let row = 0; row < codes.length; row++) {
    rowOf[codes[row]] = row
    if (row % PAUSE === PAUSE - 1) yield
  }
  return { combined, parts: levels.map(level => rowOf.map(row => level.codes[row])) }
}

/** The tree of all codes that have rows. `counts`: rows by code. */
export function treeOf({ parts }: LevelCodes, counts: Uint32Array): Work<GroupTree> {
  let used = 0
  for (let code = 0; code < counts.length; code++) if (counts[code] > 0) used++
  const sequence = new Uint32Array(used)
  for (let code = 0, at = 0; code < counts.length; code++) if (counts[code] > 0) sequence[at++] = code
  return grow(sequence, parts, counts)
}

/** The tree without the groups of a level that are not among some, and without groups that lose all of theirs. */
export function keepNodes(tree: GroupTree, level: number, kept: Bits): Work<GroupTree> {
  const { of } = tree.nodes[level]
  const sequence = tree.sequence.filter(code => hasBit(kept, of[code]))
  return grow(sequence, tree.parts, tree.counts)
}

/** The tree in which the groups of a level that are not among some are one, within each group of the level above. */
export function joinNodes(tree: GroupTree, level: number, kept: Bits): Work<GroupTree> {
  const { of } = tree.nodes[level]
  const part = tree.parts[level].slice()
  for (const code of tree.sequence) if (!hasBit(kept, of[code])) part[code] = REST
  const parts = tree.parts.map((one, i) => (i === level ? part : one))
  const above = level > 0 ? tree.nodes[level - 1].of : null
  const sequence = tree.sequence.slice()
  for (let from = 0; from < sequence.length;) {
    let to = from
    while (to < sequence.length && (!above || above[sequence[to]] === above[sequence[from]])) to++
    // Those that stay keep their order; of the others, groups of the levels below fall together.
    const run = sequence.subarray(from, to)
    const rest = run.filter(code => part[code] === REST)
    if (rest.length > 0) {
      const stay = run.filter(code => part[code] !== REST)
      const order = Array.from(rest).sort((a, b) => below(parts, level, a, b))
      sequence.set(stay, from)
      sequence.set(order, from + stay.length)
    }
    from = to
  }
  return grow(sequence, parts, tree.counts)
}

/** Compares codes by their parts below a level. */
function below(parts: readonly Uint32Array[], level: number, a: number, b: number): number {
  for (let l = level + 1; l < parts.length; l++)
    if (parts[l][a] !== parts[l][b]) return parts[l][a] - parts[l][b]
  return a - b
}

/** Neighbours in the sequence whose parts are the same down to a level are in one group of it. */
function* grow(sequence: Uint32Array, parts: readonly Uint32Array[], counts: Uint32Array): Work<GroupTree> {
  const depth = parts.length
  const nodes = parts.map(part => new Uint32Array(part.length).fill(NO_NODE))
  const keyOf = parts.map(() => new Uint32Array(sequence.length))
  const rows = parts.map(() => new Uint32Array(sequence.length))
  const children = parts.slice(1).map(() => new Uint32Array(sequence.length + 1))
  const sizes = new Array<number>(depth).fill(0)
  for (let level = 0; level < depth; level++) {
    const [part, of, keys, counted] = [parts[level], nodes[level], keyOf[level], rows[level]]
    const above = level > 0 ? nodes[level - 1] : null
    let node = -1
    for (let i = 0; i < sequence.length; i++) {
      const code = sequence[i]
      const before = sequence[i - 1]
      // Another group of the level above begins another one here.
      if (i === 0 || part[code] !== part[before] || (above && above[code] !== above[before])) {
        keys[++node] = part[code]
        if (above && (i === 0 || above[code] !== above[before])) children[level - 1][above[code]] = node
      }
      of[code] = node
      counted[node] += counts[code]
    }
    sizes[level] = node + 1
    yield
  }
  let total = 0
  for (const code of sequence) total += counts[code]
  const levels = sizes.map((size, level): TreeLevel => {
    if (level + 1 < depth) children[level][size] = sizes[level + 1]
    return {
      size,
      keyOf: keyOf[level].slice(0, size),
      rows: rows[level].slice(0, size),
      children: level + 1 < depth ? children[level].slice(0, size + 1) : null,
    }
  })
  return {
    levels,
    nodes: nodes.map((of, level) => ({ of, size: sizes[level] })),
    sequence,
    parts,
    counts,
    rows: total,
  }
}

/** Compares two groups of a level; null: they stand as in the tree. */
export type CompareNodes = ((a: number, b: number) => number) | null

/** Groups in the order in which they are shown. */
export interface OrderedLevel {
  /** By place: the group of the tree; null: as in the tree. */
  readonly nodes: Uint32Array | null
  /** By place: where its groups on the level below begin; null on the lowest. */
  readonly children: Uint32Array | null
}

/** The order of the groups of every level, each within its group of the level above. */
export function* orderNodes(tree: GroupTree, compare: readonly CompareNodes[]): Work<OrderedLevel[]> {
  const out: OrderedLevel[] = []
  /** By place on the level above: which groups are in it. */
  let parents: { readonly nodes: Uint32Array | null; readonly children: Uint32Array } | null = null
  for (const [level, { size, children }] of tree.levels.entries()) {
    const by = compare[level]
    let nodes: Uint32Array | null = null
    if (by || parents?.nodes) {
      nodes = new Uint32Array(size)
      let at = 0
      const count: number = parents ? parents.children.length - 1 : 1
      for (let place = 0; place < count; place++) {
        const parent: number = parents?.nodes ? parents.nodes[place] : place
        const from: number = parents ? parents.children[parent] : 0
        const to: number = parents ? parents.children[parent + 1] : size
        const run = nodes.subarray(at, at + to - from)
        for (let node = from; node < to; node++) nodes[at++] = node
        if (by) run.sort((a, b) => by(a, b) || a - b)
        if (place % PAUSE === PAUSE - 1) yield
      }
    }
    parents = children && { nodes, children }
    out.push({ nodes, children: children && childrenByPlace(nodes, children) })
    yield
  }
  return out
}

function childrenByPlace(nodes: Uint32Array | null, children: Uint32Array): Uint32Array {
  if (!nodes) return children
  const out = new Uint32Array(children.length)
  for (let place = 0; place < nodes.length; place++)
    out[place + 1] = out[place] + children[nodes[place] + 1] - children[nodes[place]]
  return out
}

/**
 * Where the groups of every level begin among rows that stand group by group, in the order of the groups; past the
 * last group of a level, how many rows there are.
 */
export function startsOf(tree: GroupTree, order: readonly OrderedLevel[]): Uint32Array[] {
  return tree.levels.map(({ size, rows }, level) => {
    const { nodes } = order[level]
    const starts = new Uint32Array(size + 1)
    for (let place = 0; place < size; place++)
      starts[place + 1] = starts[place] + rows[nodes ? nodes[place] : place]
    return starts
  })
}
