import { eachCodeAGroup, gatherAgain } from '../group/gather-again.ts'
import { gatherByGroup } from '../group/gather-rows-by-group.ts'
import { GroupBase } from '../group/group-base.ts'
import type { GroupSummaries } from '../group/group-summaries.ts'
import {
  combineLevels,
  followLevels,
  startsOf,
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
import type { GroupMeasure } from '../group/level.ts'
import type { Bucket } from '../group/bucket.ts'
import { changedRows, joinEdits, unionOf, type TableEdit } from '../edit/table-edit.ts'
import { zoneOffset } from '../table/zone.ts'
import { isFew } from '../work/few-changed.ts'
import { Memo } from '../work/memo.ts'
import type { Work } from '../work/work.ts'
import {
  formatOf,
  type Before,
  type GroupContext,
  type OrderedRows,
  type StagedLevel,
} from './group-context.ts'
import { knowsOrder } from './group-measures.ts'
import { keepGroups, keptAgain, measuresOf, type Kept } from './keep-groups.ts'
import { orderGroups } from './order-groups.ts'
import type { FlowLevel, FlowRequest, GroupsHeldBack } from './request.ts'
import type { Passing } from './stage-cache.ts'

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
        : keepGroups(context, levels, base.value, before, ordered.value, request)
    })
    const orderOf = `${JSON.stringify(orders)}|${keptOf}`
    const order = yield* this.orders.of(orderOf, () => {
      const before = this.stale?.orders.get(orderOf)
      return before && kept.value.summaries.hasSameRows && !orders.some(({ by }) => changed(by))
        ? atOnce(before)
        : orderGroups(context, levels, kept.value.summaries, ordered.value)
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
      const places = ordered.keys.map(({ column }) => column)
      const reordered = places.length > 0 ? changedRows(this.stale.edit, places) : undefined
      const moved = unionOf(reordered, base.moved)
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
