import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { ValueType } from '../language/expression.ts'
import type { Aggregate, Transformation } from '../language/parse-apply.ts'
import { QuestionError } from '../language/problem.ts'
import { conditionSql, expressionSql } from './expression-sql.ts'
import { orderSql } from './order-sql.ts'
import { columnOf, type Columns, type Scope, type Typed } from './scope.ts'
import { searchSql } from './search-sql.ts'

/** Rows that a statement comes to, and what their columns are called. */
export interface Rowset {
  /** What stands behind `from`. */
  readonly from: Sql
  readonly columns: Columns
}

/** Rows after a chain of transformations. Nothing is worked out here: it becomes one statement, nested. */
export function applySql(rows: Rowset, steps: readonly Transformation[], scope: Scope): Rowset {
  return steps.reduce((before, step) => {
    const { columns, select } = transform(before, step, { ...scope, columns: before.columns })
    return { from: sql`(${select}) as t`, columns }
  }, rows)
}

interface Transformed {
  readonly select: Sql
  readonly columns: Columns
}

function transform({ from, columns }: Rowset, step: Transformation, scope: Scope): Transformed {
  const keep = (rest: Sql): Transformed => ({ select: sql`select * from ${from} ${rest}`, columns })
  switch (step.kind) {
    case 'filter':
      return keep(sql`where ${conditionSql(step.where, scope)}`)
    case 'search':
      return keep(sql`where ${searchSql(step.term, scope)}`)
    case 'orderby':
      return keep(sql`order by ${sql.join(orderSql(step.items, [], scope))}`)
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
      return { select: sql`select *, ${sql.join(list)} from ${from}`, columns: added }
    }
    default:
      return put(from, step.kind === 'groupby' ? step.by : [], step.aggregates, scope)
  }
}

/** Names are those of columns in a statement, where some engines take no notice of capitals. */
function newName(columns: ReadonlyMap<string, unknown>, name: string): string {
  const taken = [...columns.keys()].some(key => key.toLowerCase() === name.toLowerCase())
  if (taken) throw new QuestionError({ code: 'wrong-type', what: 'a new name', given: name })
  return name
}

function put(from: Sql, by: readonly string[], aggregates: readonly Aggregate[], scope: Scope): Transformed {
  const columns = new Map<string, Typed>()
  const list: Sql[] = []
  for (const name of by) {
    const { sql: of, ...column } = columnOf(scope, name)
    if (column.type === 'tags')
      throw new QuestionError({ code: 'not-offered', what: 'groupby of several values' })
    list.push(of)
    columns.set(name, { sql: of, ...column })
  }
  for (const aggregate of aggregates) {
    const { sql: of, type, wall } = aggregateSql(aggregate, scope)
    const as = newName(columns, aggregate.as)
    list.push(sql`${of} as ${sql.id(as)}`)
    columns.set(as, { sql: sql.id(as), type, wall })
  }
  const grouped = by.length > 0 ? sql`group by ${sql.join(by.map(name => sql.id(name)))}` : sql``
  return { select: sql`select ${sql.join(list)} from ${from} ${grouped}`, columns }
}

const NUMBERS: readonly ValueType[] = ['integer', 'number']

/** The methods of aggregation that are answered: those of the protocol, and the grid's own with their namespace. */
export const METHODS = [
  'count',
  'sum',
  'average',
  'min',
  'max',
  'countdistinct',
  'VastMeadow.present',
  'VastMeadow.median',
  'VastMeadow.deviation',
] as const

function aggregateSql({ of: expression, method }: Aggregate, scope: Scope): Typed {
  const { dialect } = scope
  if (expression === null) return { sql: sql`count(*)`, type: 'integer' }
  const of = expressionSql(expression, scope)
  const asNumber = (): Sql => {
    const given = of.type === 'boolean' ? sql`cast(${of.sql} as integer)` : of.sql
    if (of.type !== 'boolean' && !NUMBERS.includes(of.type))
      throw new QuestionError({ code: 'wrong-type', what: 'number', given: of.type })
    return given
  }
  const double = (): Sql => sql`cast(${asNumber()} as ${dialect.types.number})`
  switch (method) {
    case 'sum':
      return { sql: sql`sum(${asNumber()})`, type: of.type === 'number' ? 'number' : 'integer' }
    case 'average':
      return { sql: sql`avg(${double()})`, type: 'number' }
    case 'min':
    case 'max':
      if (of.type === 'tags') break
      return of.type === 'text' && !of.ranked
        ? { sql: dialect.extreme(method, of.sql), type: 'text' }
        : { sql: sql`${sql.raw(method)}(${of.sql})`, type: of.type, wall: of.wall }
    case 'countdistinct':
      return { sql: sql`count(distinct ${of.sql})`, type: 'integer' }
    case 'VastMeadow.present':
      return { sql: sql`count(${of.sql})`, type: 'integer' }
    case 'VastMeadow.median':
      return { sql: dialect.median(double()), type: 'number' }
    case 'VastMeadow.deviation':
      return { sql: dialect.deviation(double()), type: 'number' }
  }
  throw new QuestionError({ code: 'not-offered', what: `${method} of ${of.type}` })
}
