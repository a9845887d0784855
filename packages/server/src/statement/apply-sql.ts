import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { Aggregate, Transformation } from '../language/parse-apply.ts'
import { QuestionError } from '../language/problem.ts'
import { conditionSql, expressionSql } from './expression-sql.ts'
import { aggregateSql } from './aggregate-sql.ts'
import { groupedInParts } from './grouped-in-parts.ts'
import { orderSql } from './order-sql.ts'
import { grouped, narrowed, type Rowset } from './rowset.ts'
import { columnOf, type Scope, type Typed } from './scope.ts'
import { searchSql } from './search-sql.ts'

/** Rows after a chain of transformations. Nothing is worked out here: it becomes one statement, nested. */
export const applySql = (rows: Rowset, steps: readonly Transformation[], scope: Scope): Rowset =>
  steps.reduce((before, step) => transform(before, step, { ...scope, columns: before.columns }), rows)

function transform(rows: Rowset, step: Transformation, scope: Scope): Rowset {
  const { columns } = rows
  /** Of all rows, wherever they are. */
  const keep = (rest: Sql): Rowset => ({
    from: sql`(select * from ${rows.from} ${rest}) as t`,
    columns,
    parts: [],
  })
  switch (step.kind) {
    case 'filter':
      return narrowed(rows, [conditionSql(step.where, scope)])
    case 'search':
      return narrowed(rows, [searchSql(step.term, scope)])
    case 'orderby': {
      const by = orderSql(step.items, [], scope)
      return { ...keep(sql`order by ${sql.join(by)}`), ordered: { from: rows.from, by } }
    }
    case 'top':
      return keep(sql`limit ${sql.lit(step.count)}`)
    case 'skip':
      return keep(sql`offset ${sql.lit(step.count)}`)
    case 'topcount':
    case 'bottomcount': {
      const items = [{ by: step.by, descending: step.kind === 'topcount' }]
      return keep(sql`order by ${sql.join(orderSql(items, [], scope))} limit ${sql.lit(step.count)}`)
    }
    case 'compute': {
      const made = step.columns.map(({ of, as }) => ({ as, ...expressionSql(of, scope) }))
      const added = new Map(columns)
      for (const { as, type, wall } of made) added.set(newName(added, as), { sql: sql.id(as), type, wall })
      const list = made.map(({ as, sql: of }) => sql`${of} as ${sql.id(as)}`)
      const computed = (from: Sql): Sql => sql`(select *, ${sql.join(list)} from ${from}) as t`
      const ordered = rows.ordered && { from: computed(rows.ordered.from), by: rows.ordered.by }
      return { from: computed(rows.from), columns: added, parts: rows.parts.map(computed), ordered }
    }
    default:
      return put(rows, step.kind === 'groupby' ? step.by : [], step.aggregates, scope)
  }
}

/** Names are those of columns in a statement, where some engines take no notice of capitals. */
function newName(columns: ReadonlyMap<string, unknown>, name: string): string {
  const taken = [...columns.keys()].some(key => key.toLowerCase() === name.toLowerCase())
  if (taken) throw new QuestionError({ code: 'wrong-type', what: 'a new name', given: name })
  return name
}

function put(rows: Rowset, by: readonly string[], aggregates: readonly Aggregate[], scope: Scope): Rowset {
  const columns = new Map<string, Typed>()
  for (const name of by) {
    const column = columnOf(scope, name)
    if (column.type === 'tags')
      throw new QuestionError({ code: 'not-offered', what: 'groupby of several values' })
    columns.set(name, { ...column, sql: sql.id(name) })
  }
  const { ordered } = rows
  const made = aggregates.map(aggregate => {
    const summed = aggregateSql(aggregate, scope, ordered?.by ?? [])
    const as = newName(columns, aggregate.as)
    columns.set(as, { sql: sql.id(as), type: summed.type, wall: summed.wall })
    return { as, ...summed }
  })
  const keys = by.map(name => ({ as: name, sql: columnOf(scope, name).sql }))
  const select = rows.parts.length > 0 ? groupedInParts(rows.parts, keys, made) : null
  return {
    from: sql`(${select ?? grouped(ordered?.from ?? rows.from, keys, made)}) as t`,
    columns,
    parts: [],
  }
}
