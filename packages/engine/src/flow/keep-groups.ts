import type { GroupBase } from '../group/group-base.ts'
import { GroupSummaries } from '../group/group-summaries.ts'
import { joinNodes, keepNodes, treeOf } from '../group/group-tree.ts'
import type { GroupMeasure, Keep } from '../group/level.ts'
import { andInto, countBits, emptyBits, setBit, type Bits } from '../table/bits.ts'
import { asColumn, type Table } from '../table/column.ts'
import type { Clock } from '../condition/clock.ts'
import type { Work } from '../work/work.ts'
import { arrangedRuns, comparing, formatOf, type GroupContext, type StagedLevel } from './group-context.ts'
import { measureColumn, measureKeys } from './group-measures.ts'
import { OwnPredicates } from './predicates.ts'
import type { FlowRequest, GroupsHeldBack } from './request.ts'

/** The groups that are kept, and what keeping them took. */
export interface Kept {
  readonly summaries: GroupSummaries
  readonly heldBack: readonly GroupsHeldBack[]
  /** What groups were measured by on the way, in the order in which it was asked. */
  readonly measured: readonly GroupSummaries[]
}

/** From the lowest level up, so that what a group is asked for holds of what is shown in it. */
export function* keepGroups(
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
    const met = yield* meeting(context, keep, summaries(), level, ordered, clock)
    if (met) tree = yield* keepNodes(tree, level, met)
    const kept = keep.most && (yield* most(context, keep.most, summaries(), level, ordered))
    if (kept && keep.most?.rest === 'out') tree = yield* keepNodes(tree, level, kept)
    held -= tree.levels[level].size
    if (kept && keep.most?.rest === 'together') tree = yield* joinNodes(tree, level, kept)
    heldBack.push({ level, groups: held, rows: rows - tree.rows })
  }
  return { summaries: new GroupSummaries(tree, base).follow(before?.summaries), heldBack, measured }
}

/** The groups that meet every condition; null: none is asked. */
function* meeting(
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
function* most(
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

/** What was kept before a change, where the same rows are in the same groups. */
export const keptAgain = ({ summaries, heldBack, measured }: Kept, base: GroupBase): Kept => ({
  summaries: new GroupSummaries(summaries.tree, base).follow(summaries),
  heldBack,
  measured,
})

/** What a level's groups are kept by. */
export function measuresOf(keep: Keep | null): GroupMeasure[] {
  return [...(keep?.where.map(({ of }) => of) ?? []), ...(keep?.most ? [keep.most.of] : [])]
}
