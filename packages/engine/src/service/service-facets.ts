import type { Binding } from '../flow/view-request.ts'
import {
  HISTOGRAM_BARS,
  sayable,
  type Facets,
  type FacetsAsked,
  type ValueCount,
} from '../question/facets.ts'
import type { Profile } from '../question/profile.ts'
import type { Value } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import { folded, foldedText } from './condition-filter.ts'
import { filterOf, propertyNamed, type RowsQuery } from './rows-query.ts'
import type { Property } from './schema.ts'
import { narrowingSteps } from './service-summaries.ts'
import type { ServiceContext } from './service-view.ts'
import type { Json } from './values.ts'
import { literal, valueIn } from './values.ts'

/** Types that have infinities, and values that are no number. */
const FLOATS = ['Double', 'Single']
const NUMERIC = ['integer', 'number', 'date', 'time', 'datetime']

const noColumn = (column: string): never => {
  throw new RangeError(`There is no column "${column}".`)
}

/** Values with counts of a column under the search and all other columns' conditions. */
export async function facetsOfService(
  context: ServiceContext,
  query: RowsQuery,
  column: string,
  { limit, holding }: FacetsAsked,
  binding: Binding | undefined,
  signal?: AbortSignal,
): Promise<Facets> {
  const { service, schema } = context
  const property = propertyNamed(schema, column) ?? noColumn(column)
  const before = narrowingSteps(query, column)
  const { field, path } = property
  const holds =
    holding && field.type === 'text'
      ? [`filter(contains(${folded(path, schema.can)},${foldedText(holding, schema.can)}))`]
      : []
  const all = async (
    steps: readonly string[],
    params: Record<string, string> = {},
  ): Promise<readonly Json[]> =>
    field.type === 'tags'
      ? []
      : await service.all(schema.rows, { $apply: steps.join('/'), ...params }, signal)
  const present = `filter(${path} ne null)`
  const [listed, distinct, missing, scale] = await Promise.all([
    all([...before, present, ...holds, `groupby((${path}),aggregate($count as rows))`], {
      $orderby: `rows desc,${path}`,
      $top: String(limit),
    }),
    all([...before, present, `aggregate(${path} with countdistinct as different)`]),
    service.count(
      schema.rows,
      {
        $filter: filterOf(query, { but: column, and: [`${path} eq null`] }),
        $search: query.search ?? undefined,
      },
      signal,
    ),
    scaleOf(context, property, before, signal),
  ])
  const show = shower(field, binding?.formats[field.key])
  const values = listed.map((record): ValueCount => {
    const value = valueIn(record, property)
    return { value: sayable(value), shown: show(value), count: Number(record.rows) }
  })
  return { values, distinct: Number(distinct.at(0)?.different ?? 0), missing, ...scale }
}

type Scale = Pick<Facets, 'low' | 'high' | 'least' | 'most' | 'histogram'>

/** The extent of a column over all rows, and how the rows that are asked for lie over it. */
async function scaleOf(
  { service, schema }: ServiceContext,
  property: Property,
  before: readonly string[],
  signal?: AbortSignal,
): Promise<Scale> {
  const none: Scale = { low: null, high: null, least: null, most: null, histogram: [] }
  const { path, field } = property
  if (!NUMERIC.includes(field.type)) return none
  const ends = async (steps: readonly string[]): Promise<readonly [number, number] | null> => {
    const $apply = [...steps, `aggregate(${path} with min as low,${path} with max as high)`].join('/')
    const [record] = await service.all(schema.rows, { $apply }, signal)
    const at = (name: string): Value => valueIn(record ?? {}, { ...property, path: name })
    const [low, high] = [at('low'), at('high')]
    return low === null || high === null ? null : [Number(low), Number(high)]
  }
  // No scale reaches to an infinity: such values lie in its outermost bars.
  const finite = async (steps: readonly string[]): Promise<readonly [number, number] | null> => {
    const found = await ends(steps)
    if (!FLOATS.includes(property.edm) || found?.every(Number.isFinite)) return found
    return await ends([...steps, `filter(${path} gt -INF and ${path} lt INF)`])
  }
  const [whole, among] = await Promise.all([finite([]), finite(before)])
  if (!whole) return none
  const [low, high] = whole
  const [least, most] = among ?? [null, null]
  const histogram = await histogramOf({ service, schema }, property, before, low, high, signal)
  return { low, high, least, most, histogram }
}

async function histogramOf(
  { service, schema }: Pick<ServiceContext, 'service' | 'schema'>,
  property: Property,
  before: readonly string[],
  low: number,
  high: number,
  signal?: AbortSignal,
): Promise<readonly number[]> {
  const { path, field } = property
  const counts = new Array<number>(HISTOGRAM_BARS).fill(0)
  const step = (high - low) / HISTOGRAM_BARS || 1
  if (field.type !== 'integer' && field.type !== 'number') {
    // Dates cannot be divided; each bar is counted by its ends.
    await Promise.all(
      counts.map(async (_, bar) => {
        const from = literal(property, Math.ceil(low + bar * step))
        const to = literal(property, Math.ceil(low + (bar + 1) * step))
        const last = bar === HISTOGRAM_BARS - 1
        const $apply = [
          ...before,
          `filter(${path} ge ${from}${last ? '' : ` and ${path} lt ${to}`})`,
          'aggregate($count as rows)',
        ].join('/')
        const [record] = await service.all(schema.rows, { $apply }, signal)
        counts[bar] = Number(record?.rows ?? 0)
      }),
    )
    return counts
  }
  const $apply = [
    ...before,
    `filter(${path} ne null)`,
    // Halved, so that the distance of the two outermost numbers there are is still one.
    `compute(floor((${path} divby 2 sub ${low / 2}) divby ${(high / 2 - low / 2) / HISTOGRAM_BARS || 1}) as bar)`,
    'groupby((bar),aggregate($count as rows))',
  ].join('/')
  for (const record of await service.all(schema.rows, { $apply }, signal)) {
    const bar = valueIn(record, { ...property, path: 'bar', field: { key: 'bar', type: 'number' } })
    // What is no number lies in no bar.
    if (bar === null) continue
    const nth = Number(bar)
    counts[Math.min(HISTOGRAM_BARS - 1, Math.max(0, nth))] += Number(record.rows)
  }
  return counts
}

/** What a column holds over all rows, whatever is arranged. */
export async function profileOfService(
  context: ServiceContext,
  column: string,
  limit: number,
  binding: Binding | undefined,
  signal?: AbortSignal,
): Promise<Profile> {
  const plain: RowsQuery = { filters: new Map(), searchFilter: null, search: null, order: [], problems: {} }
  const property = propertyNamed(context.schema, column) ?? noColumn(column)
  const [facets, rows] = await Promise.all([
    facetsOfService(context, plain, column, { limit }, binding, signal),
    context.service.count(context.schema.rows, {}, signal),
  ])
  const { values, distinct, missing, low, high, histogram } = facets
  const show = shower(property.field, binding?.formats[property.field.key])
  const isScale = low !== null && high !== null
  return {
    rows,
    missing,
    distinct,
    low,
    high,
    histogram,
    values: isScale ? [] : values,
    ...(isScale ? { lowShown: show(low), highShown: show(high) } : {}),
  }
}
