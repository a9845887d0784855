import type { RowProblem } from '../check/check-rows.ts'
import { textToEdit } from '../check/read-typed.ts'
import { replacer, type Replacing } from '../check/replace-text.ts'
import type { CellsHolding } from '../question/cells-holding.ts'
import type { CheckRowsArgs } from '../question/check-rows.ts'
import type { ArgsOf } from '../question/index.ts'
import type { SavedRow } from '../question/saved-cells.ts'
import { PageSource } from '../source/page-source.ts'
import { RowSet } from '../selection/row-set.ts'
import { countPacked } from '../table/packed-rows.ts'
import { asRowId, rowsIn, type RowId } from '../table/row-id.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { Value } from '../table/column.ts'
import { RowKeys } from './row-keys.ts'
import { either, folded, foldedText } from './condition-filter.ts'
import { paramsOf, propertyNamed } from './rows-query.ts'
import type { Property, ServiceSchema } from './schema.ts'
import { MOST_NAMED } from './service-places.ts'
import { readRows, type ServiceContext, type ServiceView } from './service-view.ts'
import { tableOfRecords } from './table-of-records.ts'
import { literal, valueIn, type Json } from './values.ts'

type RowsOf = (rows: readonly RowId[], signal?: AbortSignal) => Promise<readonly (Json | null)[]>

/** What the service has of the rows of some keys, which may be others than those that the service names rows by. */
export async function savedOfService(
  { service, schema, keys }: ServiceContext,
  { keyFields, keys: wanted, columns }: ArgsOf<'savedCells'>,
  signal?: AbortSignal,
): Promise<(SavedRow | null)[]> {
  if (keyFields.length === 0 || keyFields.some(field => !propertyNamed(schema, field)))
    return wanted.map(() => null)
  const named = new RowKeys({ ...schema, key: keyFields })
  const ids = wanted.map(key => named.idOfKey(key))
  const properties = columns.map(column => propertyNamed(schema, column))
  const found = new Map<RowId, Json>()
  const asked = ids.filter(id => id !== null)
  for (let from = 0; from < asked.length; from += MOST_NAMED) {
    const $filter = named.filter(asked.slice(from, from + MOST_NAMED))
    for (const record of await service.all(schema.rows, { $filter }, signal))
      found.set(named.idOf(record), record)
  }
  return ids.map(id => {
    const record = id === null ? undefined : found.get(id)
    if (!record) return null
    const values = properties.map(property => (property ? valueIn(record, property) : null))
    return { id: keys.idOf(record), values }
  })
}

/**
 * The cells of a column in passing rows that hold a text. The service narrows as far as it compares texts; whether it is
 * really held is looked at here. In the order of rows, not of their groups. `refuse`: rejects so many rows.
 */
export async function holdingOfService(
  context: ServiceContext,
  { query }: ServiceView,
  { column, format, replacing, among, limit }: ArgsOf<'cellsHolding'>,
  refuse: (rows: number) => void,
  signal?: AbortSignal,
): Promise<CellsHolding> {
  const { service, schema, keys } = context
  const property = propertyNamed(schema, column)
  if (!property) return { total: 0, rows: [], values: [] }
  const few = among && countPacked(among) <= MOST_NAMED ? among : null
  const filters = new Map(query.filters)
  const holding = holdingFilter(property, replacing, schema)
  if (holding) filters.set('\0holding', holding)
  if (few) filters.set('\0among', keys.filter([...rowsIn({ kind: 'set', ...few })]))
  const narrowed = { ...query, filters }
  const count = await service.count(schema.rows, paramsOf(narrowed), signal)
  refuse(count)
  const told = await readRows(context, { query: narrowed, grouped: null }, 0, count, [property], signal)
  const replace = replacer(replacing)
  const wanted = among && RowSet.of(among)
  const found = told.flatMap(({ id, record }) => {
    if (wanted && !wanted.has(id)) return []
    const value = valueIn(record, property)
    return replace(textToEdit(value, property.field, format)) === null ? [] : [{ id, value }]
  })
  const given = found.slice(0, limit)
  return {
    total: found.length,
    rows: given.map(({ id }) => id),
    values: given.map(({ value }) => value),
  }
}

/** What cells that hold a text meet, and maybe others; null: the service cannot narrow. */
function holdingFilter(
  { path, field }: Property,
  { find, whole }: Replacing,
  { can }: ServiceSchema,
): string | null {
  const text = find.trim()
  if (whole && text === '') {
    if (field.type !== 'text') return field.type === 'tags' ? null : `${path} eq null`
    return can.functions.has('trim') ? either([`${path} eq null`, `trim(${path}) eq ''`]) : null
  }
  if (field.type !== 'text' || text === '' || !can.functions.has('contains')) return null
  return `contains(${folded(path, can)},${foldedText(text, can)})`
}

/**
 * What is wrong with rows: expressions are asked of the rows as they are to be, here; whether another row has a value is
 * asked of the service.
 */
export async function checkOfService(
  context: ServiceContext,
  args: CheckRowsArgs,
  rowsOf: RowsOf,
  signal?: AbortSignal,
): Promise<RowProblem[]> {
  const { schema } = context
  const { rows, rules } = args
  const ids = rows.map(({ id }) => id)
  const told = await rowsOf(
    ids.filter(id => id !== null),
    signal,
  )
  const there = told.filter(record => record !== null)
  const place = new Map(there.map((record, at) => [context.keys.idOf(record), at]))
  const placeOf = (id: RowId | null): number => (id === null ? -1 : (place.get(id) ?? -1))
  const source = new PageSource({ kind: 'table', table: tableOfRecords(schema.properties, there) })
  await source.open({ signal })
  const here: CheckRowsArgs['rows'] = rows.map(({ id, values }) => {
    const at = placeOf(id)
    return { id: at < 0 ? null : asRowId(at), values }
  })
  const among = async (only: Partial<CheckRowsArgs['rules']>): Promise<RowProblem[]> =>
    await source.ask(
      'checkRows',
      {
        ...args,
        rows: here,
        without: [],
        rules: { rules: [], unique: [], amongValuesOf: [], ...only },
      },
      { signal },
    )
  try {
    const problems = await among({ rules: rules.rules })
    const skipped = [...new Set([...ids.filter(id => id !== null), ...args.without])]
    for (const field of rules.unique) {
      const twice = await among({ unique: [field] })
      const others = await takenElsewhere(context, field, rows, skipped, signal)
      const known = new Set(twice.map(({ nth }) => nth))
      problems.push(...twice, ...others.filter(({ nth }) => !known.has(nth)))
    }
    for (const rule of rules.amongValuesOf) {
      for (const problem of await among({ amongValuesOf: [rule] })) {
        const { id, values } = rows[problem.nth]
        const at = placeOf(id)
        const record = at < 0 ? null : there[at]
        if (!(await isAmong(context, rule, values, record, signal))) problems.push(problem)
      }
    }
    return problems.sort((a, b) => a.nth - b.nth)
  } finally {
    source.close()
  }
}

/** Rows whose value in a field a row has that is not among them. */
async function takenElsewhere(
  { service, schema, keys }: ServiceContext,
  field: string,
  rows: CheckRowsArgs['rows'],
  skipped: readonly RowId[],
  signal?: AbortSignal,
): Promise<RowProblem[]> {
  const property = propertyNamed(schema, field)
  if (!property || property.field.type === 'tags') return []
  const nths = new Map<Value, number[]>()
  for (const [nth, { values }] of rows.entries()) {
    const value = Object.hasOwn(values, field) ? values[field] : null
    if (value !== null && value !== '') nths.set(value, [...(nths.get(value) ?? []), nth])
  }
  const problems: RowProblem[] = []
  for (const [value, some] of nths) {
    const $filter = `${property.path} eq ${literal(property, value as NonNullable<Value>)}`
    // Of more rows than are passed over, one is another.
    const $top = String(skipped.length + 1)
    const $select = schema.key.join(',')
    const found = await service.all(schema.rows, { $filter, $select, $top }, signal)
    const isTaken = found.some(record => !skipped.includes(keys.idOf(record)))
    if (isTaken) for (const nth of some) problems.push({ nth, field, problem: { code: 'not-unique' } })
  }
  return problems
}

/** Whether each value of a cell is one that a row has which is like this one. */
async function isAmong(
  { service, schema }: ServiceContext,
  { field, of, like }: CheckRowsArgs['rules']['amongValuesOf'][number],
  values: Readonly<Record<string, Value>>,
  record: Json | null,
  signal?: AbortSignal,
): Promise<boolean> {
  const valueOf = (property: Property): Value => {
    const { key } = property.field
    if (Object.hasOwn(values, key)) return values[key]
    return record ? valueIn(record, property) : null
  }
  const own = propertyNamed(schema, field)
  const other = propertyNamed(schema, of)
  if (!own || !other) return true
  const likes = like.flatMap(key => {
    const property = propertyNamed(schema, key)
    const value = property && valueOf(property)
    const counts =
      property && property.field.type !== 'tags' && value !== null && value !== undefined && value !== ''
    return counts ? [`${property.path} eq ${literal(property, value)}`] : []
  })
  const value = valueOf(own)
  const items = value === null ? [] : own.field.type === 'tags' ? tagsOf(String(value)) : [value]
  for (const item of items) {
    const has =
      other.field.type === 'tags'
        ? `${other.path}/any(one: one eq ${literal(own, item)})`
        : `${other.path} eq ${literal(other, item)}`
    const params = { $filter: [has, ...likes].join(' and '), $top: '1', $select: schema.key.join(',') }
    if ((await service.all(schema.rows, params, signal)).length === 0) return false
  }
  return true
}
