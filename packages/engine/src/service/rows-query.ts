import { ANY_CLOCK } from '../condition/clock.ts'
import type { PartProblem } from '../condition/kinds/kind.ts'
import type { FlowOrderKey } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { searchWords } from '../search/fold.ts'
import type { Value } from '../table/column.ts'
import { rowsIn } from '../table/row-id.ts'
import { keysIn } from '../work/checked.ts'
import { both, conditionFilter, FOLD, folded, foldedText, NOTHING } from './condition-filter.ts'
import type { RowKeys } from './row-keys.ts'
import type { Property, ServiceSchema } from './schema.ts'
import type { Params } from './service.ts'
import { literal, quoted } from './values.ts'

/** A key by which the service orders rows. */
export interface ServiceOrderKey {
  readonly property: Property
  readonly descending: boolean
  readonly missing: 'first' | 'last'
}

/** A request as the service is asked for it. */
export interface RowsQuery {
  /** By column, what its condition asks; and under names of no column the rows that alone are asked for. */
  readonly filters: ReadonlyMap<string, string>
  /** Words that must stand somewhere; as filters where the service compares texts as the grid does. */
  readonly searchFilter: string | null
  readonly search: string | null
  readonly order: readonly ServiceOrderKey[]
  readonly problems: Readonly<Record<string, readonly PartProblem[]>>
}

/** A request that some filters of the protocol narrow further. */
export interface NarrowedRequest extends ViewRequest {
  readonly within?: readonly string[]
}

export function rowsQuery(request: NarrowedRequest, schema: ServiceSchema, keys: RowKeys): RowsQuery {
  const { can } = schema
  const filters = new Map<string, string>()
  const problems: Record<string, readonly PartProblem[]> = {}
  for (const column of keysIn(request.conditions)) {
    const property = propertyNamed(schema, column)
    if (!property) {
      filters.set(column, NOTHING)
      problems[column] = [{ code: 'not-in-service' }]
      continue
    }
    const made = conditionFilter(request.conditions[column], property, can, request.clock ?? ANY_CLOCK)
    filters.set(column, made.filter)
    if (made.problems.length > 0) problems[column] = made.problems
  }
  if (request.among) filters.set('', keys.filter([...rowsIn({ kind: 'set', ...request.among.rows })]))
  // No column is called so.
  for (const [nth, filter] of (request.within ?? []).entries()) filters.set(`\0${nth}`, filter)
  const words = searchWords(request.search)
  const byFilter = can.functions.has(FOLD)
  return {
    filters,
    problems,
    searchFilter: words.length > 0 && byFilter ? searchFilter(words, request, schema) : null,
    search:
      words.length > 0 && !byFilter ? words.map(word => `"${word.replaceAll('"', '')}"`).join(' ') : null,
    order: orderOf(request.order, schema),
  }
}

export const propertyNamed = ({ properties }: ServiceSchema, key: string): Property | undefined =>
  properties.find(({ field }) => field.key === key)

/** Every word somewhere in what the searched columns show; those whose writing the service does not know are left out. */
function searchFilter(words: readonly string[], request: ViewRequest, schema: ServiceSchema): string {
  const { can } = schema
  const searched = request.searchColumns.flatMap(key => propertyNamed(schema, key) ?? [])
  return both(
    words.map(word => {
      const said = foldedText(word, can)
      const places = searched.flatMap(({ path, field }) => {
        const format = request.binding?.formats[field.key] ?? {}
        switch (field.type) {
          case 'text':
            return [`contains(${folded(path, can)},${said})`]
          case 'tags':
            return [`${path}/any(tag:contains(${folded('tag', can)},${said}))`]
          case 'integer':
            return /^[-\d]+$/.test(word) && (format.number ?? 'plain') === 'plain'
              ? [`contains(cast(${path},Edm.String),${quoted(word)})`]
              : []
          case 'date':
            return /^[-\d]+$/.test(word) && (format.date ?? 'iso') === 'iso'
              ? [`contains(cast(${path},Edm.String),${quoted(word)})`]
              : []
          default:
            return []
        }
      })
      return places.length === 0 ? NOTHING : `(${places.join(' or ')})`
    }),
  )
}

/** The keys that the service can order by, and last those that name a row, so that every row has its place. */
function orderOf(order: readonly FlowOrderKey[], schema: ServiceSchema): ServiceOrderKey[] {
  const keys = order.flatMap(({ column, direction, missing = 'last' }): ServiceOrderKey[] => {
    const property = propertyNamed(schema, column)
    // Several values in one have no order that a service knows.
    if (!property || property.field.type === 'tags') return []
    return [{ property, descending: direction === 'descending', missing }]
  })
  const named = new Set(keys.map(({ property }) => property.path))
  for (const name of schema.key) {
    const property = schema.properties.find(({ path }) => path === name)
    if (property && !named.has(name)) keys.push({ property, descending: false, missing: 'last' })
  }
  return keys
}

/** `but`: a column whose condition is left out; `and`: what is asked besides. */
export function filterOf(
  { filters, searchFilter: search }: RowsQuery,
  { but, and = [] }: { readonly but?: string; readonly and?: readonly string[] } = {},
): string | undefined {
  const all = [...filters].flatMap(([column, filter]) => (column === but ? [] : [filter]))
  const parts = [...(search === null ? [] : [search]), ...all, ...and]
  return parts.length === 0 ? undefined : parts.join(' and ')
}

export const paramsOf = (query: RowsQuery, and: readonly string[] = []): Params => ({
  $filter: filterOf(query, { and }),
  $search: query.search ?? undefined,
})

/** `withNull`: the service orders by expressions, so that rows without a value stand where they are wanted. */
export function orderText(
  order: readonly ServiceOrderKey[],
  key: readonly string[],
  withNull: boolean,
): string {
  return order
    .flatMap(({ property: { path }, descending, missing }) => {
      const direction = descending ? ' desc' : ''
      const isKey = key.includes(path)
      const first = withNull && !isKey ? [`${path} eq null${missing === 'first' ? ' desc' : ''}`] : []
      return [...first, `${path}${direction}`]
    })
    .join(',')
}

/** A filter that is met by the rows that stand before one with these values, by key of the order. */
export function beforeFilter(order: readonly ServiceOrderKey[], values: readonly Value[]): string {
  const ways: string[] = []
  const same: string[] = []
  for (const [i, key] of order.entries()) {
    const { path } = key.property
    const value = values[i]
    const less = lessThan(key, value)
    if (less !== null) ways.push(both([...same, less]))
    same.push(value === null ? `${path} eq null` : `${path} eq ${literal(key.property, value)}`)
  }
  return ways.length === 0 ? NOTHING : `(${ways.join(' or ')})`
}

/** What stands before a value by one key; null: nothing does. */
function lessThan({ property, descending, missing }: ServiceOrderKey, value: Value): string | null {
  const { path } = property
  if (value === null) return missing === 'last' ? `${path} ne null` : null
  const beyond = `${path} ${descending ? 'gt' : 'lt'} ${literal(property, value)}`
  return missing === 'last' ? beyond : `(${path} eq null or ${beyond})`
}
