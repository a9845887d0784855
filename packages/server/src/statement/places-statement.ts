import { sql } from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import { propertyOf, type ServedTable } from '../tables/served-table.ts'
import { orderedSql } from './expression-sql.ts'
import { firstOfParts } from './first-of-parts.ts'
import { orderKeysOf, orderSql, type OrderKey } from './order-sql.ts'
import { narrowed } from './rowset.ts'
import { readSql, withNames, type Scope } from './scope.ts'
import { passing, written, type Asked, type RowsStatement } from './statement.ts'

/**
 * The keys of every so many rows of those that pass, in their order: places from which others are found without counting
 * through all before them. Sorts the keys once.
 */
export function placesStatement(asked: Asked, dialect: Dialect, step: number): RowsStatement {
  const { query, table } = asked
  const { rows, scope } = passing(asked, dialect)
  const order = sql.join(orderSql(query.order, table.key, scope))
  const keys = sql.join(table.key.map(name => sql.id(name)))
  const placed = sql`select ${keys}, row_number() over (order by ${order}) - 1 as place from ${rows.from}`
  const every = sql`where place % ${sql.lit(step)} = 0 order by place`
  return { ...written(sql`select ${keys} from (${placed}) as placed ${every}`), columns: table.key }
}

/** Rows of an order from the one that a key names on, and up to the one that another names; null: to the last. */
export interface Between {
  readonly from: readonly unknown[]
  readonly to: readonly unknown[] | null
  readonly skip: number
  readonly top: number
}

/** Rows between two places, `skip` of them left out. */
export function rowsFromPlace(
  asked: Asked,
  dialect: Dialect,
  { from, to, skip, top }: Between,
): RowsStatement {
  const { query, table } = asked
  const { rows, scope } = passing(asked, dialect)
  const names = query.select ? withNames(query.select, table.key) : [...rows.columns.keys()]
  const keys = orderKeysOf(query.order, table.key, scope)
  const values = keys.map((one, i) => {
    const by = orderedSql(one.of, scope)
    return sql`${one.of.type === 'text' ? dialect.uncollated(by) : by} as ${sql.id(`key_${i}`)}`
  })
  // A place is looked up by its key, so that its values never leave the engine and come back as what they were.
  const place = (name: string, key: readonly unknown[]): Sql => {
    const named = table.key.map((part, i) => sql`${sql.id(part)} = ${keyValue(table, part, key[i], dialect)}`)
    const found = sql`select ${sql.join(values)} from ${sql.id(...table.source)} where ${sql.join(named, sql` and `)}`
    return sql`${sql.id(name)} as materialized (${found})`
  }
  // Servers behind a table are told values, not rows to be joined with.
  const valueAt = (name: string, key: string): Sql =>
    dialect.columnar ? sql.id(name, key) : sql`(select ${sql.id(key)} from ${sql.id(name)})`
  const wheres = [dialect.sure(behind('place', keys, scope, valueAt))]
  if (to) wheres.push(sql`not ${dialect.sure(behind('place_after', keys, scope, valueAt))}`)
  wheres.push(...bounds(asked, keys, { from, to }, dialect))
  const places = [place('place', from), ...(to ? [place('place_after', to)] : [])]
  const beside = to ? sql`, place, place_after` : sql`, place`
  const list = readSql(names, scope)
  const order = sql.join(orderSql(query.order, table.key, scope))
  const limit = sql`limit ${sql.lit(top)} offset ${sql.lit(skip)}`
  if (!dialect.columnar) {
    const there = ['place', ...(to ? ['place_after'] : [])].map(
      name => sql`exists (select 1 from ${sql.id(name)})`,
    )
    const behindPlace = narrowed(rows, wheres)
    const ordered = sql`order by ${order}`
    const { from: firsts, beforehand } = firstOfParts(behindPlace, asked, names, ordered, skip + top)
    const before = sql.join([...places, ...(beforehand ? [beforehand] : [])])
    return {
      ...written(sql`with ${before} select ${list} from ${firsts}
          where ${sql.join(there, sql` and `)} ${ordered} ${limit}`),
      columns: names,
    }
  }
  // First by the columns that decide alone: an engine of columns then reads the others of a few rows only.
  const deciding = withNames(
    keys.flatMap(({ name }) => name ?? []),
    table.key,
  )
  const found = sql`select ${sql.join(table.key.map(name => sql.id(name)))}
    from (select ${sql.join(deciding.map(name => sql.id(name)))} from ${rows.from}) as rows${beside}
    where ${sql.join(wheres, sql` and `)} order by ${order} ${limit}`
  const among = sql`(${sql.join(table.key.map(name => sql.id(name)))}) in (select * from found)`
  return {
    ...written(sql`with ${sql.join([...places, sql`found as materialized (${found})`])}
      select ${list} from ${sql.id(...table.source)} where ${among} order by ${order}`),
    columns: names,
  }
}

function keyValue(table: ServedTable, name: string, value: unknown, { types }: Dialect): Sql {
  const type = propertyOf(table, name)?.type
  return sql`cast(${value} as ${type === 'integer' || type === 'number' ? types[type] : types.text})`
}

/** Where rows are ordered by their key alone, its ends are known to the engine beforehand, which then reads little else. */
function bounds(
  { table }: Asked,
  [first]: readonly OrderKey[],
  { from, to }: Pick<Between, 'from' | 'to'>,
  dialect: Dialect,
): Sql[] {
  const [name] = table.key
  const isKey = first.name === name && propertyOf(table, name)?.type === 'integer'
  if (!isKey) return []
  const [low, high] = first.descending ? [to, from] : [from, to]
  const of = first.of.sql
  return [
    ...(low ? [sql`${of} >= ${keyValue(table, name, low[0], dialect)}`] : []),
    ...(high ? [sql`${of} <= ${keyValue(table, name, high[0], dialect)}`] : []),
  ]
}

/** What is met by the row at a place and by all that stand behind it; unknown where a value is missing. */
function behind(
  name: string,
  keys: readonly OrderKey[],
  scope: Scope,
  valueAt: (name: string, key: string) => Sql,
): Sql {
  const ways: Sql[] = []
  const same: Sql[] = []
  for (const [i, { of, descending, missing }] of keys.entries()) {
    const [one, place] = [orderedSql(of, scope), valueAt(name, `key_${i}`)]
    const beyond = sql`${one} ${sql.raw(descending ? '<' : '>')} ${place}`
    const further = of.present
      ? beyond
      : missing === 'last'
        ? sql`(${beyond} or (${one} is null and ${place} is not null))`
        : sql`(${beyond} or (${one} is not null and ${place} is null))`
    ways.push(sql`(${sql.join([...same, further], sql` and `)})`)
    same.push(of.present ? sql`${one} = ${place}` : sql`${one} is not distinct from ${place}`)
  }
  return sql`(${sql.join([...ways, sql`(${sql.join(same, sql` and `)})`], sql` or `)})`
}
