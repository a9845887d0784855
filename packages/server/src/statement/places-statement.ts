import { sql } from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import { propertyOf } from '../tables/served-table.ts'
import { orderedSql } from './expression-sql.ts'
import { orderKeysOf, orderSql, type OrderKey } from './order-sql.ts'
import { columnOf, type Scope } from './scope.ts'
import { passing, withKey, written, type Asked, type RowsStatement } from './statement.ts'

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

/** Rows from the one that a key names on, `skip` of them left out. */
export function rowsFromPlace(
  asked: Asked,
  dialect: Dialect,
  key: readonly unknown[],
  { skip, top }: { readonly skip: number; readonly top: number },
): RowsStatement {
  const { query, table } = asked
  const { rows, scope } = passing(asked, dialect)
  const names = query.select ? withKey(query.select, table.key) : [...rows.columns.keys()]
  for (const name of names) columnOf(scope, name)
  const keys = orderKeysOf(query.order, table.key, scope)
  // The place is looked up by its key, so that its values never leave the engine and come back as what they were.
  const values = keys.map((one, i) => sql`${orderedSql(one.of, scope)} as ${sql.id(`place_${i}`)}`)
  const named = table.key.map((name, i) => {
    const type = propertyOf(table, name)?.type ?? 'text'
    const of = type === 'integer' || type === 'number' ? dialect.types[type] : dialect.types.text
    return sql`${sql.id(name)} = cast(${key[i]} as ${of})`
  })
  const place = sql`select ${sql.join(values)} from ${sql.id(...table.source)} where ${sql.join(named, sql` and `)}`
  const list = sql.join(names.map(name => sql.id('rows', name)))
  const order = sql.join(orderSql(query.order, table.key, scope))
  return {
    ...written(sql`with place as materialized (${place})
      select ${list} from (select * from ${rows.from}) as rows, place
      where ${fromPlace(keys, scope)} order by ${order} limit ${sql.lit(top)} offset ${sql.lit(skip)}`),
    columns: names,
  }
}

/** What is met by the row at the place and by all that stand behind it. */
function fromPlace(keys: readonly OrderKey[], scope: Scope): Sql {
  const ways: Sql[] = []
  const same: Sql[] = []
  for (const [i, { of, descending, missing }] of keys.entries()) {
    const [one, place] = [orderedSql(of, scope), sql.id('place', `place_${i}`)]
    const beyond = sql`${one} ${sql.raw(descending ? '<' : '>')} ${place}`
    const behind =
      missing === 'last'
        ? sql`(${beyond} or (${one} is null and ${place} is not null))`
        : sql`(${beyond} or (${one} is not null and ${place} is null))`
    ways.push(sql`(${sql.join([...same, behind], sql` and `)})`)
    same.push(sql`${one} is not distinct from ${place}`)
  }
  return sql`(${sql.join([...ways, sql`(${sql.join(same, sql` and `)})`], sql` or `)})`
}
