import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { Query } from '../language/query.ts'
import type { ServedTable } from '../tables/served-table.ts'
import { isByProperties, namesIn } from './order-sql.ts'
import type { Rowset } from './rowset.ts'
import { withNames } from './scope.ts'

interface Ordered {
  readonly query: Query
  readonly table: ServedTable
}

export interface FirstRows {
  /** What stands behind `from`. */
  readonly from: Sql
  /** What stands behind `with`; null: nothing. */
  readonly beforehand: Sql | null
}

/**
 * The first `most` rows of each part, with the columns that are read and those that order them: no others can be among the
 * first of all. They are gathered before they are ordered together, since all servers are then asked at once. Of rows that
 * are in one place: these themselves.
 */
export function firstOfParts(
  { from, parts }: Rowset,
  { query, table }: Ordered,
  names: readonly string[],
  ordered: Sql,
  most: number,
): FirstRows {
  if (parts.length === 0) return { from, beforehand: null }
  const read = isByProperties(query.order)
    ? sql.join(withNames([...names, ...namesIn(query.order)], table.key).map(name => sql.id(name)))
    : sql`*`
  const firsts = parts.map(part => sql`(select ${read} from ${part} ${ordered} limit ${sql.lit(most)})`)
  return {
    from: sql`firsts`,
    beforehand: sql`firsts as materialized (${sql.join(firsts, sql` union all `)})`,
  }
}
