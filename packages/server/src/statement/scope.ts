import { sql } from 'kysely'
import type { Dialect, Sql } from '../dialect/dialect.ts'
import type { ValueType } from '../language/expression.ts'
import { QuestionError } from '../language/problem.ts'
import type { Property, ServedTable } from '../tables/served-table.ts'

/** A part of a statement with what it comes to. */
export interface Typed {
  readonly sql: Sql
  readonly type: ValueType
  /** Of moments: without a zone. */
  readonly wall?: boolean
  /** Of texts: it can be ordered as it stands. */
  readonly ranked?: boolean
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

const typedOf = ({ name, type, wall, ranked }: Property): Typed => ({ sql: sql.id(name), type, wall, ranked })

export const columnsOf = ({ properties }: ServedTable): Columns =>
  new Map(properties.map(property => [property.name, typedOf(property)]))
