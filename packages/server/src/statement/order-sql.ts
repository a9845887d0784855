import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { Expression } from '../language/expression.ts'
import type { OrderItem } from '../language/parse-order.ts'
import { QuestionError } from '../language/problem.ts'
import { expressionSql, orderedSql } from './expression-sql.ts'
import { columnOf, type Scope, type Typed } from './scope.ts'

/** A key of an order, and where rows without a value come. */
export interface OrderKey {
  /** The property, where it is one; null: something that is computed. */
  readonly name: string | null
  readonly of: Typed
  readonly descending: boolean
  readonly missing: 'first' | 'last'
}

/** An order as a statement says it; it ends in `last`, so that no two rows stand beside one another by chance. */
export const orderSql = (items: readonly OrderItem[], last: readonly string[], scope: Scope): Sql[] =>
  orderKeysOf(items, last, scope).map(({ of, descending, missing }) => {
    const by = orderedSql(of, scope)
    const direction = sql.raw(descending ? 'desc' : 'asc')
    // Where nothing is missing, an index in the usual order serves.
    return of.present ? sql`${by} ${direction}` : sql`${by} ${direction} nulls ${sql.raw(missing)}`
  })

export function orderKeysOf(items: readonly OrderItem[], last: readonly string[], scope: Scope): OrderKey[] {
  const keys = orderKeys(items, scope)
  const named = new Set(namesIn(items))
  for (const name of last)
    if (!named.has(name)) keys.push({ name, of: columnOf(scope, name), descending: false, missing: 'first' })
  return keys
}

function orderKeys(items: readonly OrderItem[], scope: Scope): OrderKey[] {
  const keys: OrderKey[] = []
  for (let i = 0; i < items.length; i++) {
    const { by, descending } = items[i]
    const next = items.at(i + 1)
    const asked = askedForMissing(by)
    // “Whether it is missing, and then by it” is one key to engines, which read it from an index.
    if (asked !== null && next?.by.kind === 'property' && next.by.name === asked) {
      const of = ordering(columnOf(scope, asked))
      keys.push({ name: asked, of, descending: next.descending, missing: descending ? 'first' : 'last' })
      i++
      continue
    }
    const of = ordering(expressionSql(by, scope))
    // No value is less than any, as the protocol says.
    keys.push({
      name: by.kind === 'property' ? by.name : null,
      of,
      descending,
      missing: descending ? 'last' : 'first',
    })
  }
  return keys
}

/** Whether an order goes by properties alone, not by what is computed from them. */
export const isByProperties = (items: readonly OrderItem[]): boolean =>
  items.every(({ by }, i) => {
    if (by.kind === 'property') return true
    const next = items.at(i + 1)?.by
    return next?.kind === 'property' && askedForMissing(by) === next.name
  })

/** The properties that an order by properties alone goes by. */
export const namesIn = (items: readonly OrderItem[]): string[] =>
  items.flatMap(({ by }) => (by.kind === 'property' ? [by.name] : []))

/** Several values in one have no order. */
function ordering(of: Typed): Typed {
  if (of.type === 'tags') throw new QuestionError({ code: 'wrong-type', what: 'one value', given: 'tags' })
  return of
}

/** The property of which an expression asks whether it is missing. */
function askedForMissing(by: Expression): string | null {
  if (by.kind !== 'binary' || by.operator !== 'eq') return null
  const isNull = by.right.kind === 'literal' && by.right.type === 'null'
  return isNull && by.left.kind === 'property' ? by.left.name : null
}
