import type { Dialect } from '../dialect/dialect.ts'
import type { RowsStatement, Statement } from '../statement/statement.ts'
import type { Property } from '../tables/served-table.ts'

/** A value as an answer writes it: texts as they are, dates and times in ISO, whole numbers beyond a double as digits. */
export type Answered = string | number | boolean | null | readonly string[]

/** Runs statements. Each is given up when its signal says so, in the engine itself. */
export interface SqlEngine {
  readonly dialect: Dialect
  /** The columns of a table or view, in their order. Rejects where there is none. */
  describe(source: readonly string[]): Promise<readonly Property[]>
  count(statement: Statement, signal: AbortSignal): Promise<number>
  rows(statement: RowsStatement, signal: AbortSignal): Promise<readonly (readonly Answered[])[]>
  close(): void | Promise<void>
}
