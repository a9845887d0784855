import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { Partial, Summed } from './aggregate-sql.ts'
import { allOf, grouped, type Made } from './rowset.ts'

/**
 * Groups of rows that are kept on several servers: each server groups its own, and what is put together here is as many
 * rows as there are groups, times servers. Null where a summary needs all rows in one place.
 */
export function groupedInParts(
  parts: readonly Sql[],
  keys: readonly Made[],
  summaries: readonly (Summed & { readonly as: string })[],
): Sql | null {
  const wanted: (Partial & { readonly as: string })[] = []
  for (const { as, parts: partial } of summaries) {
    if (!partial) return null
    wanted.push({ ...partial, as })
  }
  const nameOf = (nth: number, name: string): string => `part_${nth}_${name}`
  const each = wanted.flatMap(({ each: asked }, nth) =>
    Object.entries(asked).map(([name, of]) => ({ as: nameOf(nth, name), sql: of })),
  )
  const apart = wanted.flatMap(({ apart: of }, nth) => (of ? [{ as: nameOf(nth, 'apart'), sql: of }] : []))
  const answers = parts.map(part => grouped(part, [...keys, ...apart], each))
  const named =
    (nth: number) =>
    (name: string): Sql =>
      sql.id(nameOf(nth, name))
  const again = keys.map(({ as }) => ({ as, sql: sql.id(as) }))
  const over =
    keys.length > 0
      ? sql`(partition by ${sql.join(again.map(key => key.sql))})`
      : sql`(partition by ${sql.lit(1)})`
  const known = wanted.flatMap(({ beforehand = {} }, nth) =>
    Object.entries(beforehand).map(
      ([name, make]) => sql`${make(named(nth), over)} as ${sql.id(nameOf(nth, name))}`,
    ),
  )
  const all = sql`(${allOf(answers)}) as parts`
  const from = known.length > 0 ? sql`(select *, ${sql.join(known)} from ${all}) as parts` : all
  const made = wanted.map(({ as, together }, nth) => ({ as, sql: together(named(nth)) }))
  return grouped(from, again, made)
}
