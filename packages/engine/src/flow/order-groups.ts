import { keyShower } from '../group/group-names.ts'
import type { GroupSummaries } from '../group/group-summaries.ts'
import { orderNodes, type CompareNodes, type OrderedLevel } from '../group/group-tree.ts'
import { REST } from '../group/rest.ts'
import type { Format } from '../table/format.ts'
import type { Work } from '../work/work.ts'
import { arrangedRuns, comparing, formatOf, type GroupContext, type StagedLevel } from './group-context.ts'
import { measureKeys } from './group-measures.ts'

/** The order of the groups of every level, as the levels say. */
export function* orderGroups(
  context: GroupContext,
  levels: readonly StagedLevel[],
  summaries: GroupSummaries,
  ordered: Uint32Array | null,
): Work<OrderedLevel[]> {
  const compare: CompareNodes[] = []
  for (const [nth, level] of levels.entries())
    compare.push(yield* comparer(context, level, nth, summaries, ordered))
  return yield* orderNodes(summaries.tree, compare)
}

function* comparer(
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
