import { eachCodeAGroup, gatherAgain } from '../group/gather-again.ts'
import { gatherByGroup } from '../group/gather-rows-by-group.ts'
import { GroupBase, type SummaryParts } from '../group/group-base.ts'
import { keyShower } from '../group/group-names.ts'
import { GroupSummaries } from '../group/group-summaries.ts'
import {
  combineLevels,
  followLevels,
  joinNodes,
  keepNodes,
  orderNodes,
  startsOf,
  treeOf,
  type CompareNodes,
  type LevelCodes,
  type OrderedLevel,
} from '../group/group-tree.ts'
import {
  fittingBucket,
  followBuckets,
  levelBuckets,
  type Grouped,
  type LevelBuckets,
} from '../group/level-buckets.ts'
import type { GroupMeasure, Keep } from '../group/level.ts'
import { REST } from '../group/rest.ts'
import type { Bucket } from '../group/bucket.ts'
import { changedRows, joinEdits, unionOf, type TableEdit } from '../edit/table-edit.ts'
import type { ColumnCodes } from '../order/column-codes.ts'
import type { OrderBy } from '../order/order-rows.ts'
import type { Runs } from '../summary/runs.ts'
import { andInto, countBits, emptyBits, setBit, type Bits } from '../table/bits.ts'
import { asColumn, type ColumnIndex, type Table } from '../table/column.ts'
import type { Format } from '../table/format.ts'
import type { Show } from '../table/shown-text.ts'
import { zoneOffset } from '../table/zone.ts'
import type { Clock } from '../condition/clock.ts'
import { isFew } from '../work/few-changed.ts'
import { Memo } from '../work/memo.ts'
import type { Work } from '../work/work.ts'
import { knowsOrder, measureColumn, measureKeys, type PlaceOf } from './group-measures.ts'
import { OwnPredicates, type ConditionTools } from './predicates.ts'
import type { FlowLevel, FlowRequest, Formats, GroupsHeldBack } from './request.ts'
import type { Passing } from './stage-cache.ts'

/** A level whose column is there. */
export interface StagedLevel {
  readonly level: FlowLevel
  /** The column that is named. */
  readonly named: ColumnIndex
  /** The column whose values are taken. */
  readonly place: ColumnIndex
  readonly bucket: Bucket
  readonly buckets: LevelBuckets
}

/** Rows in groups. */
export interface GroupedRows {
  readonly levels: readonly StagedLevel[]
  readonly summaries: GroupSummaries
  readonly order: readonly OrderedLevel[]
  /** By level: where the groups begin among the rows, in their order. */
  readonly starts: readonly Uint32Array[]
  /** Null: all rows of the table as they stand; only where there are no levels. */
  readonly rows: Uint32Array | null
  readonly heldBack: readonly GroupsHeldBack[]
}

/** What the stage before came to. */
export interface Before<T> {
  readonly value: T
  readonly signature: string
}

/** The passing rows in their order; null: all rows as they stand. */
export interface OrderedRows extends Before<Uint32Array | null> {
  readonly keys: readonly OrderBy[]
}

/** The flow that groups are made in. */
export interface GroupContext {
  readonly table: Table
  readonly codes: ColumnCodes
  readonly formats: Formats
  readonly shows: readonly Show[]
  readonly tools: ConditionTools
  readonly parts: SummaryParts
  placeOf: PlaceOf
  /** Compares rows as the order of rows has them. */
  compareRows: (keys: readonly OrderBy[]) => (a: number, b: number) => number
}

interface Kept {
  readonly summaries: GroupSummaries
  readonly heldBack: readonly GroupsHeldBack[]
  /** What groups were measured by on the way, in the order in which it was asked. */
  readonly measured: readonly GroupSummaries[]
}

interface CombinedLevels {
  readonly levels: LevelCodes
  readonly from: readonly LevelBuckets[]
}

/** What was known before values of some rows changed, and what changed since. */
interface Stale {
  readonly edit: TableEdit
  readonly buckets: ReadonlyMap<string, LevelBuckets>
  readonly codes: ReadonlyMap<string, CombinedLevels>
  readonly bases: ReadonlyMap<string, GroupBase>
  readonly kept: ReadonlyMap<string, Kept>
  readonly orders: ReadonlyMap<string, OrderedLevel[]>
  readonly gathered: ReadonlyMap<string, GroupedRows>
}

/** Results of each step that are kept: the present one, and those before to which readers go back. */
const KEPT = 2
const KEPT_BUCKETS = 6

/**
 * Groups rows in steps that depend on as little as they can: codes on the columns alone, what columns come to and which groups are kept on the
 * rows that pass, the order of groups on that, and only the gathered rows on the order of rows.
 */
export class GroupStage {
  private readonly buckets = new Memo<LevelBuckets>(KEPT_BUCKETS)
  private readonly codes = new Memo<CombinedLevels>(KEPT)
  private readonly bases = new Memo<GroupBase>(KEPT)
  private readonly kept = new Memo<Kept>(KEPT)
  private readonly orders = new Memo<OrderedLevel[]>(KEPT)
  private readonly gathered = new Memo<GroupedRows>(KEPT)
  private stale: Stale | null = null

  /** Everything: rows or columns are others. */
  clear(): void {
    this.stale = null
    for (const memo of [this.buckets, this.codes, this.bases, this.kept, this.orders, this.gathered])
      memo.clear()
  }

  /** Values of some rows have changed, or rows are new or gone: what was known is gone on from when it is next asked for. */
  follow(edit: TableEdit): void {
    if (!this.stale && this.buckets.isEmpty && this.bases.isEmpty) return
    // Several changes may come before anybody asks again.
    const joined = this.stale ? joinEdits(this.stale.edit, edit) : edit
    const changed = changedRows(joined, joined.touched.keys()).length
    if (joined.reshaped || !isFew(changed, joined.table.rows)) {
      this.clear()
      return
    }
    this.stale = this.stale
      ? { ...this.stale, edit: joined }
      : {
          edit: joined,
          buckets: new Map(this.buckets.entries()),
          codes: new Map(this.codes.entries()),
          bases: new Map(this.bases.entries()),
          kept: new Map(this.kept.entries()),
          orders: new Map(this.orders.entries()),
          gathered: new Map(this.gathered.entries()),
        }
    for (const memo of [this.bases, this.kept, this.orders, this.gathered]) memo.clear()
    const lost = new Set<LevelBuckets>()
    for (const [signature, buckets] of this.buckets.entries())
      if (changedRows(joined, [(JSON.parse(signature) as [number])[0]]).length > 0) lost.add(buckets)
    this.buckets.keepOnly(buckets => !lost.has(buckets))
    const grown = joined.table.rows > joined.appendedFrom
    this.codes.keepOnly(({ from }) => !grown && !from.some(buckets => lost.has(buckets)))
  }

  /** Groups the passing rows, which come in their order. */
  *group(
    context: GroupContext,
    request: FlowRequest,
    passing: Before<Passing>,
    ordered: OrderedRows,
  ): Work<{ readonly value: GroupedRows; readonly fresh: boolean; readonly signature: string }> {
    const levels: StagedLevel[] = []
    const names: string[] = []
    for (const level of request.groups) {
      const staged = yield* this.stageLevel(context, level)
      if (!staged) continue
      levels.push(staged.level)
      names.push(staged.signature)
    }
    const codesOf = names.join()
    const baseOf = `${codesOf}|${passing.signature}`
    const base = yield* this.bases.of(baseOf, () =>
      this.makeBase(context, levels, codesOf, baseOf, passing.value),
    )
    const keeps = levels.map(({ level }) => level.keep ?? null)
    const orders = levels.map(({ level }) => level.order)
    const arranged = [...keeps.flatMap(measuresOf), ...orders.map(({ by }) => by)].some(knowsOrder)
    const keptOf = `${JSON.stringify(keeps)}|${arranged ? ordered.signature : ''}|${baseOf}`
    const changed = (measure: GroupMeasure | 'key' | 'shown'): boolean =>
      arranged ||
      (typeof measure === 'object' && !base.value.isUnchanged(context.placeOf(measure.column) ?? null))
    const kept = yield* this.kept.of(keptOf, () => {
      const before = this.stale?.kept.get(keptOf)
      const same = before && base.value.follows(before.summaries.base) && base.value.isUnchanged(null)
      return same && !keeps.flatMap(measuresOf).some(changed)
        ? atOnce(keptAgain(before, base.value))
        : this.keep(context, levels, base.value, before, ordered.value, request)
    })
    const orderOf = `${JSON.stringify(orders)}|${keptOf}`
    const order = yield* this.orders.of(orderOf, () => {
      const before = this.stale?.orders.get(orderOf)
      return before && kept.value.summaries.hasSameRows && !orders.some(({ by }) => changed(by))
        ? atOnce(before)
        : this.orderGroups(context, levels, kept.value.summaries, ordered.value)
    })
    const signature = `${orderOf}|${ordered.signature}`
    const { value, fresh } = yield* this.gathered.of(signature, () =>
      this.gather(context, levels, kept.value, order.value, ordered, signature),
    )
    this.stale = null
    return { value, fresh, signature: levels.length === 0 ? '' : signature }
  }

  private *stageLevel(
    context: GroupContext,
    level: FlowLevel,
  ): Work<{ readonly level: StagedLevel; readonly signature: string } | null> {
    const named = context.placeOf(level.column)
    const place = context.placeOf(level.from ?? level.column)
    if (named === undefined || place === undefined) return null
    const field = context.table.fields[place]
    const column = context.table.columns[place]
    const bucket = fittingBucket(level.bucket, field, column)
    const { zone } = formatOf(context.formats, level.column)
    const signature = JSON.stringify([place, bucket, field.zoned && bucket.by === 'date' ? zone : null])
    const offset = field.zoned && zone ? zoneOffset(zone) : null
    const grouped = { place, field, column, zone: offset }
    const { value: buckets } = yield* this.buckets.of(signature, () =>
      this.makeBuckets(context, signature, bucket, grouped),
    )
    return { level: { level, named, place, bucket, buckets }, signature: `${named}${signature}` }
  }

  private *makeBuckets(
    { codes, table }: GroupContext,
    signature: string,
    bucket: Bucket,
    grouped: Grouped,
  ): Work<LevelBuckets> {
    const before = this.stale?.buckets.get(signature)
    if (before && this.stale) {
      const changed = changedRows(this.stale.edit, [grouped.place])
      const followed = yield* followBuckets(before, bucket, grouped, codes, changed, table.rows)
      if (followed) return followed
    }
    return yield* levelBuckets(bucket, grouped, codes)
  }

  private *combine(levels: readonly StagedLevel[], signature: string, rows: number): Work<CombinedLevels> {
    const from = levels.map(({ buckets }) => buckets)
    const before = this.stale?.codes.get(signature)
    if (before?.from.every(({ numbering }, nth) => numbering === from[nth].numbering) && this.stale) {
      const places = levels.map(({ place }) => place)
      const followed = followLevels(before.levels, from, changedRows(this.stale.edit, places), rows)
      if (followed) return { levels: followed, from }
    }
    return { levels: yield* combineLevels(from, rows), from }
  }

  private *makeBase(
    { table, codes, parts }: GroupContext,
    levels: readonly StagedLevel[],
    codesOf: string,
    signature: string,
    { bits }: Passing,
  ): Work<GroupBase> {
    const { value } = yield* this.codes.of(codesOf, () => this.combine(levels, codesOf, table.rows))
    const base = new GroupBase(table, codes, value.levels, bits, parts)
    const before = this.stale?.bases.get(signature)
    return before?.levels.parts === value.levels.parts && this.stale
      ? base.follow(before, this.stale.edit)
      : base
  }

  /** From the lowest level up, so that what a group is asked for holds of what is shown in it. */
  private *keep(
    context: GroupContext,
    levels: readonly StagedLevel[],
    base: GroupBase,
    before: Kept | undefined,
    ordered: Uint32Array | null,
    { clock }: FlowRequest,
  ): Work<Kept> {
    const measured: GroupSummaries[] = []
    let tree = yield* treeOf(base.levels, yield* base.counts())
    const heldBack: GroupsHeldBack[] = []
    for (let level = levels.length - 1; level >= 0; level--) {
      const { keep } = levels[level].level
      if (!keep) continue
      const rows = tree.rows
      let held: number = tree.levels[level].size
      const summaries = (): GroupSummaries => {
        const made = new GroupSummaries(tree, base).follow(before?.measured[measured.length])
        measured.push(made)
        return made
      }
      const met = yield* this.meeting(context, keep, summaries(), level, ordered, clock)
      if (met) tree = yield* keepNodes(tree, level, met)
      const kept = keep.most && (yield* this.most(context, keep.most, summaries(), level, ordered))
      if (kept && keep.most?.rest === 'out') tree = yield* keepNodes(tree, level, kept)
      held -= tree.levels[level].size
      if (kept && keep.most?.rest === 'together') tree = yield* joinNodes(tree, level, kept)
      heldBack.push({ level, groups: held, rows: rows - tree.rows })
    }
    return { summaries: new GroupSummaries(tree, base).follow(before?.summaries), heldBack, measured }
  }

  /** The groups that meet every condition; null: none is asked. */
  private *meeting(
    context: GroupContext,
    { where }: Keep,
    summaries: GroupSummaries,
    level: number,
    ordered: Uint32Array | null,
    clock: Clock = { now: Date.now() },
  ): Work<Bits | null> {
    let met: Bits | null = null
    const { size } = summaries.tree.levels[level]
    for (const { of, condition } of where) {
      const arranged = arrangedRuns(summaries, level, ordered)
      const measured = yield* measureColumn(summaries, level, of, context.placeOf, arranged)
      if (!measured) continue
      const table: Table = { rows: size, fields: [measured.field], columns: [measured.column] }
      const format = of === 'size' ? {} : formatOf(context.formats, of.column)
      const predicates = new OwnPredicates(table, context.tools, { [measured.field.key]: format })
      const { rows } = yield* predicates.rowsMeeting(asColumn(0), condition, clock)
      if (met) andInto(met, rows)
      else met = rows.slice()
    }
    return met
  }

  /** So many groups of each group of the level above; null: all are. */
  private *most(
    context: GroupContext,
    { count, of, direction }: NonNullable<Keep['most']>,
    summaries: GroupSummaries,
    level: number,
    ordered: Uint32Array | null,
  ): Work<Bits | null> {
    const { tree } = summaries
    const arranged = arrangedRuns(summaries, level, ordered)
    const keys = yield* measureKeys(summaries, level, of, context.placeOf, arranged)
    if (!keys) return null
    const { size } = tree.levels[level]
    const kept = emptyBits(size)
    const compare = comparing(keys, direction === 'descending')
    const parents = level > 0 ? tree.levels[level - 1].children : null
    const runs = parents ? parents.length - 1 : 1
    for (let parent = 0; parent < runs; parent++) {
      const from = parents ? parents[parent] : 0
      const to = parents ? parents[parent + 1] : size
      const run = Array.from({ length: to - from }, (_, i) => from + i)
      if (run.length > count) run.sort((a, b) => compare(a, b) || a - b)
      for (const node of run.slice(0, count)) setBit(kept, node)
    }
    return countBits(kept) === size ? null : kept
  }

  private *orderGroups(
    context: GroupContext,
    levels: readonly StagedLevel[],
    summaries: GroupSummaries,
    ordered: Uint32Array | null,
  ): Work<OrderedLevel[]> {
    const compare: CompareNodes[] = []
    for (const [nth, level] of levels.entries())
      compare.push(yield* this.comparer(context, level, nth, summaries, ordered))
    return yield* orderNodes(summaries.tree, compare)
  }

  private *comparer(
    context: GroupContext,
    { level, place, bucket, buckets }: StagedLevel,
    nth: number,
    summaries: GroupSummaries,
    ordered: Uint32Array | null,
  ): Work<CompareNodes> {
    const { by, direction, missing } = level.order
    const down = direction === 'descending'
    // So the tree has them.
    if (by === 'key' && !down && missing === 'last') return null
    const { keyOf } = summaries.tree.levels[nth]
    let keys: Float64Array | null
    if (by === 'key') keys = Float64Array.from(keyOf)
    else if (by === 'shown') {
      const ranks = yield* shownRanks(
        context,
        { place, bucket, buckets },
        formatOf(context.formats, level.column),
      )
      keys = Float64Array.from(keyOf, key => ranks[key])
    } else {
      const arranged = arrangedRuns(summaries, nth, ordered)
      keys = yield* measureKeys(summaries, nth, by, context.placeOf, arranged)
    }
    if (!keys) return null
    const compared = comparing(keys, down)
    const first = missing === 'first'
    // 0: no value, where that comes first; 1: a value; 2: no value; 3: the rest.
    const kind = keyOf.map(key => (key === REST ? 3 : key === buckets.size ? (first ? 0 : 2) : 1))
    return (a, b) => kind[a] - kind[b] || compared(a, b)
  }

  private *gather(
    { compareRows }: GroupContext,
    levels: readonly StagedLevel[],
    { summaries, heldBack }: Kept,
    order: readonly OrderedLevel[],
    ordered: OrderedRows,
    signature: string,
  ): Work<GroupedRows> {
    const { tree, base } = summaries
    if (levels.length === 0) return { levels, summaries, order, starts: [], rows: ordered.value, heldBack }
    const starts = startsOf(tree, order)
    const { codes } = base.levels.combined
    const lowest = starts[starts.length - 1]
    const before = this.stale?.gathered.get(signature)
    if (before?.rows && this.stale && base.moved && base.follows(before.summaries.base)) {
      const reordered =
        ordered.keys.length > 0
          ? changedRows(
              this.stale.edit,
              ordered.keys.map(key => key.column),
            )
          : null
      const moved = reordered ? unionOf(reordered, base.moved) : base.moved
      if (moved.length === 0 && before.order === order) return { ...before, levels, summaries, heldBack }
      const now = { codes, tree, order, starts: lowest }
      const then = {
        codes: before.summaries.base.levels.combined.codes,
        tree: before.summaries.tree,
        order: before.order,
        starts: before.starts[before.starts.length - 1],
      }
      const compare = compareRows(ordered.keys)
      if (eachCodeAGroup(tree) && eachCodeAGroup(then.tree)) {
        const rows = yield* gatherAgain(then, before.rows, now, { rows: moved, among: base.among, compare })
        if (rows) return { levels, summaries, order, starts, rows, heldBack }
      }
    }
    const rows = yield* gatherByGroup(codes, tree, order, lowest, ordered.value)
    return { levels, summaries, order, starts, rows, heldBack }
  }
}

function* atOnce<T>(value: T): Work<T> {
  return value
}

/** What was kept before a change, where the same rows are in the same groups. */
const keptAgain = ({ summaries, heldBack, measured }: Kept, base: GroupBase): Kept => ({
  summaries: new GroupSummaries(summaries.tree, base).follow(summaries),
  heldBack,
  measured,
})

/** How a column is written. */
const formatOf = (formats: Formats, column: string): Format => formats[column] ?? {}

/** Rows in their order, group by group as the tree has them. */
const arrangedRuns = (
  { tree, base }: GroupSummaries,
  level: number,
  ordered: Uint32Array | null,
): (() => Work<Runs>) =>
  function* () {
    const order = yield* orderNodes(
      tree,
      tree.levels.map(() => null),
    )
    const starts = startsOf(tree, order)
    const { codes } = base.levels.combined
    return {
      rows: yield* gatherByGroup(codes, tree, order, starts[starts.length - 1], ordered),
      starts: starts[level],
    }
  }

const comparing =
  (keys: Float64Array, down: boolean): ((a: number, b: number) => number) =>
  (a, b) => {
    const [x, y] = [keys[a], keys[b]]
    if (x === y) return 0
    // What comes to nothing is last in both directions.
    if (Number.isNaN(x) || Number.isNaN(y)) return Number.isNaN(x) ? (Number.isNaN(y) ? 0 : 1) : -1
    return x < y === down ? 1 : -1
  }

/** By code of a level: its rank by what is shown. */
function* shownRanks(
  { table, shows, codes }: GroupContext,
  {
    place,
    bucket,
    buckets: { codes: rowCodes, size, keys },
  }: Pick<StagedLevel, 'place' | 'bucket' | 'buckets'>,
  format: Format,
): Work<Float64Array> {
  const ranks = new Float64Array(size + 1).fill(NaN)
  if (keys) {
    const show = keyShower(bucket, table.fields[place], shows[place], format)
    const texts = keys.map((key, code) => show(key, keys[code + 1]))
    const collator = codes.collation(true)
    const order = [...texts.keys()].sort((a, b) => collator.compare(texts[a], texts[b]))
    order.forEach((code, rank) => (ranks[code] = rank))
    return ranks
  }
  const shown = yield* codes.shown(place, true)
  for (let row = 0; row < rowCodes.length; row++) ranks[rowCodes[row]] = shown.codes[row]
  return ranks
}

function measuresOf(keep: Keep | null): GroupMeasure[] {
  return [...(keep?.where.map(({ of }) => of) ?? []), ...(keep?.most ? [keep.most.of] : [])]
}
