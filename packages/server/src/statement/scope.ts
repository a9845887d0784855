import { sql } from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import type { ValueType } from '../language/expression.ts'
import { QuestionError } from '../language/problem.ts'
import type { ServedTable } from '../tables/served-table.ts'

/** A part of a statement with what it comes to. */
export interface Typed {
  readonly sql: Sql
  readonly type: ValueType
  /** It always has a value. */
  readonly present?: boolean
  /** Of moments: without a zone. */
  readonly wall?: boolean
  /** Of decimals: how many digits stand before and behind the point. */
  readonly digits?: Digits
  /** Of texts: it can be ordered as it stands. */
  readonly ranked?: boolean
  /** Of texts: the engine keeps it as another type. */
  readonly asText?: boolean
  /** Of texts of which there are few: a question for all of them, as rows with a column `one`. */
  readonly few?: Sql
}

/** How many digits of a number stand before and behind its point. */
export interface Digits {
  readonly whole: number
  readonly fraction: number
}

/** The columns that an expression may name. */
export type Columns = ReadonlyMap<string, Typed>

export interface Scope {
  readonly dialect: Dialect
  readonly columns: Columns
}

export function columnOf({ columns }: Scope, name: string): Typed {
  const column = columns.get(name)
  if (!column) throw new QuestionError({ code: 'no-such-property', name })
  return column
}

export const columnsOf = ({ properties, source }: ServedTable, dialect: Dialect): Columns =>
  new Map(
    properties.map(({ name, type, edm, precision = 0, scale = 0, nullable, wall, ranked, few, asText }) => {
      const column = asText ? sql`cast(${sql.id(name)} as ${dialect.types.text})` : sql.id(name)
      const texts = few ? dialect.fewTexts?.(column, sql.id(...source)) : undefined
      const digits =
        edm === 'Decimal' ? { whole: Math.max(0, precision - scale), fraction: scale } : undefined
      return [name, { sql: column, type, present: !nullable, wall, digits, ranked, asText, few: texts }]
    }),
  )

/** Columns as they are read: texts as texts, whatever the engine keeps. */
export const readSql = (names: readonly string[], scope: Scope): Sql =>
  sql.join(
    names.map(name => {
      const { sql: of, asText } = columnOf(scope, name)
      return asText ? sql`${of} as ${sql.id(name)}` : sql.id(name)
    }),
  )

export const withNames = (names: readonly string[], more: readonly string[]): string[] => [
  ...new Set([...names, ...more]),
]
