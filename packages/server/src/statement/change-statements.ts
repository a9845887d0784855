import { sql } from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import type { Expression, Literal } from '../language/expression.ts'
import type { Given, GivenRow } from '../language/read-body.ts'
import type { ServedTable } from '../tables/served-table.ts'
import { conditionSql } from './expression-sql.ts'
import { columnsOf, readSql } from './scope.ts'
import { written, type RowRule, type RowsStatement, type Statement } from './statement.ts'

/** A row of a table, and what whoever asks may see at all. */
export interface RowAsked {
  readonly table: ServedTable
  readonly rule: RowRule | null
  readonly key: readonly Literal[]
}

const tableSql = ({ source }: ServedTable): Sql => sql.id(...source)

/** A condition that the row alone meets, and only where it may be seen. */
function rowSql({ table, rule, key }: RowAsked, dialect: Dialect): Sql {
  const scope = { dialect, columns: columnsOf(table, dialect) }
  const wheres = table.key.map((name, nth): Sql => {
    const equal: Expression = {
      kind: 'binary',
      operator: 'eq',
      left: { kind: 'property', name },
      right: key[nth],
    }
    return conditionSql(equal, scope)
  })
  if (rule) wheres.push(conditionSql(rule.where, { dialect, columns: columnsOf(rule.of, dialect) }))
  return sql.join(wheres, sql` and `)
}

/** The row. `held`: nobody else changes it before the transaction ends. */
export function rowStatement(asked: RowAsked, dialect: Dialect, held: boolean): RowsStatement {
  const columns = asked.table.properties.map(({ name }) => name)
  const list = readSql(columns, { dialect, columns: columnsOf(asked.table, dialect) })
  const hold = held && dialect.holds ? sql`for update` : sql``
  return {
    ...written(sql`select ${list} from ${tableSql(asked.table)} where ${rowSql(asked, dialect)} ${hold}`),
    columns,
  }
}

export function updateStatement(asked: RowAsked, row: GivenRow, dialect: Dialect): Statement {
  const cells = Array.from(row, ([name, given]) => sql`${sql.id(name)} = ${valueSql(given, dialect)}`)
  return written(sql`update ${tableSql(asked.table)} set ${sql.join(cells)} where ${rowSql(asked, dialect)}`)
}

/** Answers with the key of the new row, which the engine may have made. */
export function insertStatement(table: ServedTable, row: GivenRow, dialect: Dialect): RowsStatement {
  const key = sql.join(table.key.map(name => sql.id(name)))
  const names = [...row.keys()]
  const what =
    names.length === 0
      ? sql`default values`
      : sql`(${sql.join(names.map(name => sql.id(name)))}) values (${sql.join([...row.values()].map(given => valueSql(given, dialect)))})`
  return { ...written(sql`insert into ${tableSql(table)} ${what} returning ${key}`), columns: table.key }
}

export const deleteStatement = (asked: RowAsked, dialect: Dialect): Statement =>
  written(sql`delete from ${tableSql(asked.table)} where ${rowSql(asked, dialect)}`)

/** A value as a parameter; the engine reads it as what its column holds. */
function valueSql(given: Given, dialect: Dialect): Sql {
  if (given === null) return sql`null`
  if (typeof given === 'string') return sql`${given}`
  return dialect.texts(given.map(text => sql`cast(${text} as ${dialect.types.text})`))
}
