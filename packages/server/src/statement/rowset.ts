import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { Columns } from './scope.ts'

/** Rows that a statement comes to, and what their columns are called. */
export interface Rowset {
  /** What stands behind `from`. */
  readonly from: Sql
  readonly columns: Columns
  /** Of rows that are kept on several servers: what stands behind `from` for those of each; empty: they are together. */
  readonly parts: readonly Sql[]
  /** Where they stand in an order: the rows as they came, and by what they are ordered. */
  readonly ordered?: { readonly from: Sql; readonly by: readonly Sql[] }
}

/** Those of some rows that meet all conditions. */
export function narrowed(rows: Rowset, wheres: readonly Sql[]): Rowset {
  if (wheres.length === 0) return rows
  const where = (from: Sql): Sql => sql`(select * from ${from} where ${sql.join(wheres, sql` and `)}) as t`
  const ordered = rows.ordered && { from: where(rows.ordered.from), by: rows.ordered.by }
  return { columns: rows.columns, from: where(rows.from), parts: rows.parts.map(where), ordered }
}

export const allOf = (selects: readonly Sql[]): Sql => sql.join(selects, sql` union all `)

/** A column that a statement makes. */
export interface Made {
  readonly as: string
  readonly sql: Sql
}

export function grouped(from: Sql, keys: readonly Made[], made: readonly Made[]): Sql {
  const list = [...keys, ...made].map(({ as, sql: of }) => sql`${of} as ${sql.id(as)}`)
  const by = keys.length > 0 ? sql`group by ${sql.join(keys.map(key => key.sql))}` : sql``
  return sql`select ${sql.join(list)} from ${from} ${by}`
}
