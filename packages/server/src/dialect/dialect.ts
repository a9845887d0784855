import type { RawBuilder } from 'kysely'

/** A part of a statement; values in it are parameters. */
export type Sql = RawBuilder<unknown>

type DatePart = 'year' | 'month' | 'day' | 'hour' | 'minute' | 'second'
export const PERIODS = ['year', 'quarter', 'month', 'week', 'day', 'hour'] as const
type Period = (typeof PERIODS)[number]

export const RECURRING_PARTS = ['quarter', 'month', 'week', 'weekday', 'day', 'hour'] as const
type RecurringPart = (typeof RECURRING_PARTS)[number]

/** What of time a column holds: a day, a moment, a moment without a zone, a time of day. */
export type TimeKind = 'date' | 'moment' | 'wall' | 'time'

/** What an engine does otherwise than the grid's own engine does in the page. */
export interface Differences {
  /** How texts are ordered, in a sentence. */
  readonly order: string
  /** How far a sum may lie from another, as a part of the sum of what was added. */
  readonly sums: number
}

/** What must be said otherwise in each engine. All else of a statement is the same everywhere. */
export interface Dialect {
  readonly name: string
  readonly differences: Differences
  /** A text without case, accents and strokes. */
  fold(text: Sql): Sql
  /** Several texts in one, a line each, where one long text is folded quicker than many; null: it is not. */
  lines: ((texts: readonly Sql[]) => Sql) | null
  /** By what a text is ordered and compared as greater or less. */
  collated(text: Sql): Sql
  /** A text that is to be compared with another, by what the other is ordered. */
  uncollated(text: Sql): Sql
  contains(text: Sql, part: Sql): Sql
  starts(text: Sql, part: Sql): Sql
  ends(text: Sql, part: Sql): Sql
  /** Position of a part, counted from 0; −1: it is not in it. */
  position(text: Sql, part: Sql): Sql
  /** Whether a pattern in RE2 syntax matches somewhere; null: the engine has no patterns that take linear time. */
  matches: ((text: Sql, pattern: Sql) => Sql) | null
  datePart(part: DatePart, of: Sql, kind: TimeKind): Sql
  /** The day, or the moment, with which the period around a date begins. */
  startOf(period: Period, of: Sql, kind: TimeKind): Sql
  /** The number of a period within the one that holds it: of a month in its year, of a day in its week from Monday on. */
  partOf(part: RecurringPart, of: Sql, kind: TimeKind): Sql
  /** To the nearest whole number, from the middle away from zero. */
  round(of: Sql): Sql
  /** What is left of a division; `whole`: of whole numbers. `by` is not zero. */
  remainder(of: Sql, by: Sql, whole: boolean): Sql
  /** A condition of which what is unknown is false. */
  sure(condition: Sql): Sql
  /** The types of casts. */
  readonly types: Readonly<
    Record<'text' | 'integer' | 'number' | 'boolean' | 'date' | 'time' | 'moment' | 'wall', Sql>
  >
  /** The type of decimals with at least so many digits before and behind the point; null: the engine has none. */
  decimal(digits: { readonly whole: number; readonly fraction: number }): Sql | null
  /** Whether any of several texts is met; `test` is given one. */
  anyOf(texts: Sql, test: (one: Sql) => Sql): Sql
  /** All texts that may occur in a column of few, as rows with a column `one`; null: the engine has no such columns. */
  fewTexts: ((column: Sql, table: Sql) => Sql) | null
  /** Several texts as one value. */
  texts(list: readonly Sql[]): Sql
  /** Whether rows that are read can be held until a transaction ends; else a change that another made ends it. */
  readonly holds: boolean
  /** Whether rows are kept by columns: then those that are far behind are found by the columns that decide alone. */
  readonly columnar: boolean
  /** Days, moments or times of day as numbers: of days since 1970, of milliseconds since then or since midnight. */
  numberOf(of: Sql, kind: TimeKind): Sql
  /** The value below which that part of the values lies, between two of them where it falls between. */
  quantile(of: Sql, at: number): Sql
  /** The same, but one of the values themselves: the first of the ascending ones at which that part of them lies. */
  valueAt(of: Sql, at: number): Sql
  /** The value that most rows have, of several such the least; `by`: by what values are ordered. */
  frequent(of: Sql, by: Sql): Sql
  /** The first value, or the last, of rows in an order; rows without one do not count. */
  endOf(which: 'first' | 'last', of: Sql, order: readonly Sql[]): Sql
  deviation(of: Sql): Sql
  /** The least or the greatest of texts by the collation. */
  extreme(which: 'min' | 'max', text: Sql): Sql
}
