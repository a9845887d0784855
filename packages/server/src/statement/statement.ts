import {
  DummyDriver,
  Kysely,
  PostgresAdapter,
  PostgresIntrospector,
  PostgresQueryCompiler,
  sql,
} from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import type { Expression } from '../language/expression.ts'
import type { Transformation } from '../language/parse-apply.ts'
import type { OrderItem } from '../language/parse-order.ts'
import type { Query } from '../language/query.ts'
import type { ServedTable } from '../tables/served-table.ts'
import { applySql } from './apply-sql.ts'
import { conditionSql } from './expression-sql.ts'
import { orderSql } from './order-sql.ts'
import { firstOfParts } from './first-of-parts.ts'
import { allOf, narrowed, type Rowset } from './rowset.ts'
import { columnOf, columnsOf, readSql, withNames, type Scope } from './scope.ts'
import { searchSql } from './search-sql.ts'

/** A statement as an engine takes it: text with `$1`, `$2` …, and what stands for them. */
export interface Statement {
  readonly text: string
  readonly values: readonly unknown[]
}

/** A statement and what its columns are called. */
export interface RowsStatement extends Statement {
  readonly columns: readonly string[]
}

/** It only writes statements; engines of this package run them. */
const writer = new Kysely({
  dialect: {
    createAdapter: () => new PostgresAdapter(),
    createDriver: () => new DummyDriver(),
    createIntrospector: db => new PostgresIntrospector(db),
    createQueryCompiler: () => new PostgresQueryCompiler(),
  },
})

export function written(statement: Sql): Statement {
  const { sql: text, parameters } = statement.compile(writer)
  return { text, values: parameters }
}

/** Which rows may be seen at all. It may speak of properties that are not open themselves. */
export interface RowRule {
  readonly where: Expression
  readonly of: ServedTable
}

/** What is asked of a table, by whom. */
export interface Asked {
  readonly table: ServedTable
  readonly query: Query
  /** What the asker may see at all; null: every row. */
  readonly rule: RowRule | null
}

/** The rows that pass what is asked, and after what they are turned into. */
export function passing({ table, query, rule }: Asked, dialect: Dialect): { rows: Rowset; scope: Scope } {
  const scope = { dialect, columns: columnsOf(table, dialect) }
  const base: Rowset = {
    from: sql.id(...table.source),
    columns: scope.columns,
    parts: table.parts.map(part => sql.id(...part)),
  }
  const wheres: Sql[] = []
  if (rule) wheres.push(conditionSql(rule.where, { dialect, columns: columnsOf(rule.of, dialect) }))
  if (query.apply.length === 0) {
    if (query.filter) wheres.push(conditionSql(query.filter, scope))
    if (query.search) wheres.push(searchSql(query.search, scope))
    return { rows: narrowed(base, wheres), scope }
  }
  // The protocol has `$apply` evaluated before the other options.
  const rows = applySql(narrowed(base, wheres), query.apply, scope)
  const after = { dialect, columns: rows.columns }
  const later: Sql[] = []
  if (query.filter) later.push(conditionSql(query.filter, after))
  if (query.search) later.push(searchSql(query.search, after))
  return { rows: narrowed(rows, later), scope: after }
}

/** How many rows pass. */
export function countStatement(asked: Asked, dialect: Dialect): Statement {
  const { rows } = passing(asked, dialect)
  if (rows.parts.length === 0) return written(sql`select count(*) as n from ${rows.from}`)
  const counts = rows.parts.map(part => sql`select count(*) as n from ${part}`)
  return written(sql`select sum(n) as n from (${allOf(counts)}) as parts`)
}

/** What names the rows that a chain of transformations ends with, and the order that it says. */
function endOf(
  apply: readonly Transformation[],
  key: readonly string[],
): { readonly named: readonly string[]; readonly items: readonly OrderItem[] } {
  const last = apply.findLastIndex(({ kind }) => kind === 'groupby' || kind === 'aggregate')
  const put = apply.at(last)
  const named = last < 0 ? key : put?.kind === 'groupby' ? put.by : []
  const ordered = apply.slice(last + 1).findLast(step => step.kind === 'orderby')
  return { named, items: ordered?.kind === 'orderby' ? ordered.items : [] }
}

/** Some order of rows by what names them: engines give groups in a new one each time, and pages would not fit together. */
const inAnyOrder = (named: readonly string[], scope: Scope): Sql[] =>
  named.map(name => sql`${columnOf(scope, name).sql} asc nulls first`)

/** Rows `skip` up to `skip + top` of those that pass, in their order. */
export function rowsStatement(asked: Asked, dialect: Dialect, top: number): RowsStatement {
  const { query, table } = asked
  const { rows, scope } = passing(asked, dialect)
  const turned = query.apply.length > 0
  const names = query.select ? withNames(query.select, turned ? [] : table.key) : [...rows.columns.keys()]
  const { named, items } = endOf(query.apply, table.key)
  const order = turned
    ? [...orderSql(query.order.length > 0 ? query.order : items, [], scope), ...inAnyOrder(named, scope)]
    : orderSql(query.order, table.key, scope)
  const list = readSql(names, scope)
  const ordered = order.length > 0 ? sql`order by ${sql.join(order)}` : sql``
  const limit = sql`limit ${sql.lit(top)} offset ${sql.lit(query.skip)}`
  const { from, beforehand } = firstOfParts(rows, asked, names, ordered, query.skip + top)
  const before = beforehand ? sql`with ${beforehand}` : sql``
  return { ...written(sql`${before} select ${list} from ${from} ${ordered} ${limit}`), columns: names }
}
