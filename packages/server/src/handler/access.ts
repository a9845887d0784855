import { parseExpression } from '../language/parse-expression.ts'
import { QuestionError } from '../language/problem.ts'
import type { RowRule } from '../statement/statement.ts'
import { narrowChanges, type Changes } from '../tables/changes.ts'
import type { ServedTable } from '../tables/served-table.ts'

/** What of a table is open to whoever asks. */
export interface TableAccess {
  /** Only rows for which this expression of the protocol is true, whatever is asked: `owner eq 'me'`. */
  readonly rows?: string
  /** Only these properties; the key's are always among them. Default: all. */
  readonly properties?: readonly string[]
  /** What may be changed, of what the table offers; default: all of that. Rows that may not be seen are never changed. */
  readonly change?: Changes
}

/** By the name of the table; one that is not named is not there. */
export type Access = Readonly<Record<string, TableAccess>>

/** A table as whoever asks may see it. */
export interface OpenTable {
  readonly table: ServedTable
  readonly rule: RowRule | null
  readonly changes: Changes
}

/** `access` null: everything is open. */
export function openTable(tables: readonly ServedTable[], name: string, access: Access | null): OpenTable {
  const table = tables.find(one => one.name === name)
  if (!table || (access && !Object.hasOwn(access, name)))
    throw new QuestionError({ code: 'no-such-table', name: name.slice(0, 100) })
  const { rows, properties, change } = access?.[name] ?? {}
  const seen = properties
    ? table.properties.filter(one => properties.includes(one.name) || table.key.includes(one.name))
    : table.properties
  const rule = rows === undefined ? null : { where: parseExpression(rows), of: table }
  const leftOut = properties ? table.leftOut.filter(one => properties.includes(one)) : table.leftOut
  return {
    table: { ...table, properties: seen, leftOut },
    rule,
    changes: narrowChanges(table.change, change),
  }
}
