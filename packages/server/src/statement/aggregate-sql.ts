import { sql } from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import type { ValueType } from '../language/expression.ts'
import type { Aggregate } from '../language/parse-apply.ts'
import { QuestionError } from '../language/problem.ts'
import { expressionSql, orderedSql } from './expression-sql.ts'
import type { Scope, Typed } from './scope.ts'

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
  'VastMeadow.quantile',
  'VastMeadow.valueAt',
  'VastMeadow.deviation',
  'VastMeadow.frequent',
  'VastMeadow.first',
  'VastMeadow.last',
] as const

/**
 * A quantile says in its name which: `VastMeadow.quantile_0_25` is what a quarter of the values lie below, `valueAt` the
 * same as one of the values.
 */
const QUANTILE = /^VastMeadow\.(quantile|valueAt)_([01])(?:_(\d{1,17}))?$/

/** Which quantile a method is; null: it is none. */
function quantileOf(method: string): { readonly kind: string; readonly at: number } | null {
  const [, kind = '', whole, fraction = '0'] = QUANTILE.exec(method) ?? []
  const at = whole === undefined ? NaN : Number(`${whole}.${fraction}`)
  return at >= 0 && at <= 1 ? { kind, at } : null
}

/** A summary of all rows at once, and how it is put together from those of parts of them; null: it is not. */
export interface Summed extends Typed {
  readonly parts: Partial | null
}

/** What is asked of each part, by names of its own, and what becomes of all the answers. */
export interface Partial {
  readonly each: Readonly<Record<string, Sql>>
  /** What is told apart in each part, so that it is counted once where it occurs in several. */
  readonly apart?: Sql
  /** What is known of a whole group beforehand, from the answers of its parts. */
  readonly beforehand?: Readonly<Record<string, (named: (name: string) => Sql, over: Sql) => Sql>>
  readonly together: (named: (name: string) => Sql) => Sql
}

/** `order`: in which rows stand, for what asks for the first or the last of them; empty: in none. */
export function aggregateSql(
  { of: expression, method }: Aggregate,
  scope: Scope,
  order: readonly Sql[],
): Summed {
  const { dialect } = scope
  const { integer } = dialect.types
  const added = (of: Sql): Partial => ({ each: { n: of }, together: n => sql`sum(${n('n')})` })
  const counted = (of: Sql): Partial => ({
    each: { n: of },
    together: n => sql`cast(coalesce(sum(${n('n')}), 0) as ${integer})`,
  })
  if (expression === null) return { sql: sql`count(*)`, type: 'integer', parts: counted(sql`count(*)`) }
  const of = expressionSql(expression, scope)
  const asNumber = (): Sql => {
    const given = of.type === 'boolean' ? sql`cast(${of.sql} as integer)` : of.sql
    if (of.type !== 'boolean' && !NUMBERS.includes(of.type))
      throw new QuestionError({ code: 'wrong-type', what: 'number', given: of.type })
    return given
  }
  const double = (): Sql => sql`cast(${asNumber()} as ${dialect.types.number})`
  switch (method) {
    case 'sum': {
      const sum = sql`sum(${asNumber()})`
      return { sql: sum, type: of.type === 'number' ? 'number' : 'integer', parts: added(sum) }
    }
    case 'average':
      return {
        sql: sql`avg(${double()})`,
        type: 'number',
        parts: {
          each: { s: sql`sum(${double()})`, n: sql`count(${of.sql})` },
          together: n => sql`sum(${n('s')}) / nullif(cast(sum(${n('n')}) as ${dialect.types.number}), 0)`,
        },
      }
    case 'min':
    case 'max': {
      if (of.type === 'tags') break
      const least = (value: Sql): Sql =>
        of.type === 'boolean'
          ? sql`${sql.raw(method === 'min' ? 'bool_and' : 'bool_or')}(${value})`
          : of.type === 'text' && !of.ranked
            ? dialect.extreme(method, value)
            : sql`${sql.raw(method)}(${value})`
      const parts: Partial = { each: { m: least(of.sql) }, together: n => least(n('m')) }
      return { sql: least(of.sql), type: of.type, wall: of.type === 'text' ? undefined : of.wall, parts }
    }
    case 'countdistinct':
      return {
        sql: sql`count(distinct ${of.sql})`,
        type: 'integer',
        parts: { each: {}, apart: of.sql, together: n => sql`count(distinct ${n('apart')})` },
      }
    case 'VastMeadow.present':
      return { sql: sql`count(${of.sql})`, type: 'integer', parts: counted(sql`count(${of.sql})`) }
    case 'VastMeadow.median':
      return { sql: dialect.quantile(double(), 0.5), type: 'number', parts: null }
    case 'VastMeadow.frequent':
      if (of.type === 'tags') break
      return { ...asItIs(of), sql: dialect.frequent(of.sql, orderedSql(of, scope)) }
    case 'VastMeadow.first':
    case 'VastMeadow.last': {
      if (of.type === 'tags') break
      if (order.length === 0)
        throw new QuestionError({ code: 'not-offered', what: `${method} without orderby` })
      const which = method === 'VastMeadow.first' ? 'first' : 'last'
      return { ...asItIs(of), sql: dialect.endOf(which, of.sql, order) }
    }
    case 'VastMeadow.deviation':
      return { sql: dialect.deviation(double()), type: 'number', parts: deviationOfParts(double(), dialect) }
  }
  const quantile = quantileOf(method)
  if (quantile?.kind === 'valueAt') return { ...asItIs(of), sql: dialect.valueAt(asNumber(), quantile.at) }
  if (quantile) return { sql: dialect.quantile(double(), quantile.at), type: 'number', parts: null }
  throw new QuestionError({ code: 'not-offered', what: `${method} of ${of.type}` })
}

/** One of the values themselves, which needs all rows in one place. */
const asItIs = ({ type, wall }: Typed) => ({ type, wall: type === 'text' ? undefined : wall, parts: null })

/**
 * The deviation from counts, sums and the squares around each part's own mean, so that nothing is lost where values are
 * large and near to one another (Chan, Golub and LeVeque, “Updating Formulae and a Pairwise Algorithm for Computing Sample
 * Variances”, 1979).
 */
const deviationOfParts = (of: Sql, { types }: Dialect): Partial => ({
  each: {
    n: sql`cast(count(${of}) as ${types.number})`,
    s: sql`sum(${of})`,
    q: sql`var_pop(${of}) * count(${of})`,
  },
  beforehand: {
    mean: (n, over) => sql`sum(${n('s')}) over ${over} / nullif(sum(${n('n')}) over ${over}, 0)`,
  },
  together:
    n => sql`sqrt((sum(${n('q')}) + sum(${n('n')} * power(${n('s')} / nullif(${n('n')}, 0) - ${n('mean')}, 2)))
    / nullif(greatest(sum(${n('n')}) - 1, 0), 0))`,
})
