import type { FlowLevel, GroupsHeldBack } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { GroupKey, GroupPath } from '../flow/line.ts'
import { levelOf, type GroupMeasure, type Keep } from '../group/level.ts'
import { SourceError } from '../source/row-source.ts'
import { PageSource } from '../source/page-source.ts'
import { summaryField } from '../summary/summary.ts'
import type { Field, Value } from '../table/column.ts'
import { rowsIn } from '../table/row-id.ts'
import { either, NOTHING } from './condition-filter.ts'
import type { GroupCounts } from './group-counts.ts'
import { PLAIN_REQUEST } from './plain-request.ts'
import { propertyNamed, rowsQuery, type NarrowedRequest } from './rows-query.ts'
import { groupFilter, type ServiceContext, type ServiceView } from './service-view.ts'
import { pathText } from './service-groups.ts'
import { comesToTexts, sortKeys, summarizeService } from './service-summaries.ts'
import { tableOfColumns } from './table-of-records.ts'

/** Groups that can be named one by one in a question. */
const MOST_NAMED = 1000

type Grouped = NonNullable<ServiceView['grouped']>

export interface KeptRequest {
  /** The request without what its levels keep: only rows of the groups that are kept are asked for. */
  readonly request: NarrowedRequest
  /** By level that keeps only some, the lowest first. */
  readonly heldBack: readonly GroupsHeldBack[]
}

/** The groups of one level, by their keys, and what they are measured by. */
interface Measured {
  readonly grouped: Grouped
  readonly nth: number
  readonly request: NarrowedRequest
  /** By group; null: there is no such column, or the service cannot tell. */
  readonly valuesOf: (measure: GroupMeasure) => readonly Value[] | null
}

/**
 * Decides which groups of a request are kept, by what the service says they come to. From the lowest level up, so that
 * what a group is asked for holds of what is shown in it. Two questions a level and depth; all others name then the groups
 * that are kept, or those that are not, where they are fewer. Rejects where both are too many to be named.
 */
export async function keepGroups(
  context: ServiceContext,
  counts: GroupCounts,
  given: ViewRequest,
  signal?: AbortSignal,
): Promise<KeptRequest> {
  let request: NarrowedRequest = {
    ...given,
    groups: given.groups.map(({ keep: _, ...level }): FlowLevel => level),
  }
  const heldBack: GroupsHeldBack[] = []
  for (let nth = given.groups.length - 1; nth >= 0; nth--) {
    const { keep } = given.groups[nth]
    const measured = keep && (await measure(context, counts, request, nth, keep, signal))
    if (!measured) continue
    const { groups } = measured.grouped
    const kept = await keptOf(context, measured, keep)
    const rows = [...kept].reduce((sum, group) => sum + groups.head(nth, group).count, 0)
    heldBack.push({ level: nth, groups: groups.countOf(nth) - kept.size, rows: groups.rowCount - rows })
    if (kept.size === groups.countOf(nth)) continue
    const filter = keptFilter(context, measured, kept)
    request = { ...request, within: [...(request.within ?? []), filter] }
  }
  return { request, heldBack }
}

/** Null: rows stand in no groups, or not by all levels. */
async function measure(
  { schema, keys }: ServiceContext,
  counts: GroupCounts,
  request: NarrowedRequest,
  nth: number,
  keep: Keep,
  signal?: AbortSignal,
): Promise<Measured | null> {
  const query = rowsQuery(request, schema, keys)
  // By their keys, however they are shown: of those that come to the same the first are kept.
  const byKey = request.groups.map(level => ({ ...level, order: levelOf(level.column).order }))
  const grouped = await counts.of({ ...request, groups: byKey }, query, signal)
  if (!grouped || grouped.levels.length < byKey.length) return null
  const measures = [...keep.where.map(({ of }) => of), ...(keep.most ? [keep.most.of] : [])]
  const summing = { schema, query, ask: (steps: string) => counts.ask(steps, signal) }
  const told = await summarizeService(
    summing,
    grouped,
    measures.filter(one => one !== 'size'),
  )
  const sizes = Array.from(
    { length: grouped.groups.countOf(nth) },
    (_, group) => grouped.groups.head(nth, group).count,
  )
  const nameOf = (of: GroupMeasure): string => (of === 'size' ? of : JSON.stringify([of.column, of.summary]))
  return {
    grouped,
    nth,
    request,
    valuesOf: of =>
      of === 'size'
        ? sizes
        : ((told.find(one => nameOf(one) === nameOf(of))?.levels.at(nth) as readonly Value[] | undefined) ??
          null),
  }
}

/** The numbers of the groups that are kept. */
async function keptOf(
  context: ServiceContext,
  measured: Measured,
  { where, most }: Keep,
): Promise<ReadonlySet<number>> {
  const met = await meeting(context, measured, where)
  return most ? mostOf(context, measured, met, most) : met
}

/** The groups that meet every condition, which the page's own engine asks of them. */
async function meeting(
  { schema }: ServiceContext,
  { grouped, nth, request, valuesOf }: Measured,
  where: Keep['where'],
): Promise<ReadonlySet<number>> {
  const rows = grouped.groups.countOf(nth)
  const asked = where.flatMap(({ of, condition }, i) => {
    const values = valuesOf(of)
    const field = values && measureField(schema, of, `measure${i}`)
    return field ? [{ of, condition, field, values }] : []
  })
  if (asked.length === 0) return new Set(Array.from({ length: rows }, (_, group) => group))
  const properties = asked.map(({ field }) => ({ path: field.key, edm: '', field }))
  const table = tableOfColumns(properties, { rows, values: asked.map(({ values }) => values) })
  const source = new PageSource({ kind: 'table', table })
  await source.open()
  const { formats = {}, ...binding } = request.binding ?? { computed: [] }
  const { id } = await source.view({
    ...PLAIN_REQUEST,
    conditions: Object.fromEntries(asked.map(({ field, condition }) => [field.key, condition])),
    ...(request.clock && { clock: request.clock }),
    binding: {
      ...binding,
      computed: [],
      formats: Object.fromEntries(
        asked.map(({ of, field }) => [field.key, of === 'size' ? {} : (formats[of.column] ?? {})]),
      ),
    },
  })
  const passing = await source.ask('passingRows', { view: id, anyOrder: true })
  const met = new Set([...rowsIn(passing)].map(Number))
  source.close()
  return met
}

function measureField(schema: ServiceContext['schema'], of: GroupMeasure, key: string): Field | null {
  if (of === 'size') return { key, type: 'integer' }
  const field = propertyNamed(schema, of.column)?.field
  return field ? { ...summaryField(of.summary, field), key } : null
}

/** Of some groups so many, within each group of the level above. */
function mostOf(
  { schema }: ServiceContext,
  { grouped: { groups }, nth, request, valuesOf }: Measured,
  met: ReadonlySet<number>,
  { count, of, direction }: NonNullable<Keep['most']>,
): ReadonlySet<number> {
  const values = valuesOf(of)
  if (!values) return met
  const keys = sortKeys(values, of !== 'size' && comesToTexts(schema, of), request.binding?.locale)
  const sign = direction === 'descending' ? -1 : 1
  const compare = (a: number, b: number): number => {
    const [x, y] = [keys[a], keys[b]]
    // What comes to nothing is last in both directions.
    if (Number.isNaN(x) || Number.isNaN(y)) return Number(Number.isNaN(x)) - Number(Number.isNaN(y)) || a - b
    return sign * (x - y) || a - b
  }
  const parents = nth > 0 ? groups.countOf(nth - 1) : 1
  const kept = new Set<number>()
  for (let parent = 0; parent < parents; parent++) {
    const { first, end } = nth > 0 ? groups.childrenOf(nth - 1, parent) : { first: 0, end: groups.countOf(0) }
    const run = Array.from({ length: end - first }, (_, i) => first + i).filter(group => met.has(group))
    if (run.length > count) run.sort(compare)
    for (const group of run.slice(0, count)) kept.add(group)
  }
  return kept
}

/** A filter that only rows of the groups that are kept meet. */
function keptFilter(
  { service }: ServiceContext,
  { grouped: { groups, levels }, nth }: Measured,
  kept: ReadonlySet<number>,
): string {
  if (kept.size === 0) return NOTHING
  const size = groups.countOf(nth)
  const isNamed = kept.size <= size - kept.size
  const named = Array.from({ length: size }, (_, group) => group).filter(group => kept.has(group) === isNamed)
  if (named.length > MOST_NAMED)
    throw new SourceError({ code: 'service-too-many-kept', service: service.name, most: MOST_NAMED })
  const byParent = new Map<string, { readonly parent: GroupPath; readonly keys: GroupKey[] }>()
  for (const group of named) {
    const path = groups.pathOf(nth, group)
    const parent = path.slice(0, -1)
    const name = pathText(parent)
    const among = byParent.get(name) ?? { parent, keys: [] }
    among.keys.push(path[nth])
    byParent.set(name, among)
  }
  const filters = [...byParent.values()].map(({ parent, keys }) => {
    const own = levels[nth].several(keys)
    return parent.length > 0 ? `(${groupFilter(levels, parent)} and ${own})` : own
  })
  return isNamed ? either(filters) : `not (${either(filters)})`
}
