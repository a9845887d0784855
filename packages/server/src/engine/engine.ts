import type { Dialect } from '../dialect/dialect.ts'
import type { RowsStatement, Statement } from '../statement/statement.ts'
import type { Budget } from './budget.ts'
import type { Property } from '../tables/served-table.ts'

/** A value as an answer writes it: texts as they are, dates and times in ISO, whole numbers beyond a double as digits. */
export type Answered = string | number | boolean | null | readonly string[]

export interface Described {
  /** The columns that a grid can show, in their order. */
  readonly properties: readonly Property[]
  /** The names of its other columns. */
  readonly leftOut: readonly string[]
  /** Of a table that is kept on several servers: the names of its parts, each by its own parts. */
  readonly parts: readonly (readonly string[])[]
}

/** Runs a statement of a transaction, and answers with its rows. */
export type Run = (statement: Statement) => Promise<readonly (readonly Answered[])[]>

/** Runs statements. Each is given up when its signal says so, in the engine itself. */
export interface SqlEngine {
  readonly dialect: Dialect
  /** What a table or view holds. Rejects where there is none. */
  describe(source: readonly string[]): Promise<Described>
  count(statement: Statement, signal: AbortSignal): Promise<number>
  /** `budget`: rows are read as long as it takes them; those behind are not held in memory. */
  rows(
    statement: RowsStatement,
    signal: AbortSignal,
    budget?: Budget,
  ): Promise<readonly (readonly Answered[])[]>
  /** Runs statements as one: all of them take effect when `work` resolves, none when it rejects. */
  transaction<T>(work: (run: Run) => Promise<T>, signal: AbortSignal): Promise<T>
  close(): void | Promise<void>
}
