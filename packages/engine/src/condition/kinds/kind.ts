import * as z from 'zod/mini'
import type { Bits } from '../../table/bits.ts'
import type { Column, Field, FieldType, Value } from '../../table/column.ts'
import type { Clock } from '../clock.ts'

/** A number, or the plain digits of one in a column that keeps numbers which no double tells apart. */
export type Bound = number | string

/** The smallest and largest number that is meant, both included. */
export interface Span {
  readonly from: Bound
  readonly to: Bound
}

/**
 * What a part asks, in the few shapes that the columns answer quickly. `none` turns it round: the rows that have a
 * value and are not met. `text` tests folded text, once per distinct one; `holds`, where given, are texts of which
 * every match contains one, so that joined text can be searched for them. `exact` tests text as the data holds it.
 * `span` ends are included unless `above` or `below` leaves them out.
 */
export type Ask =
  | {
      readonly by: 'text'
      readonly test: TextTest
      readonly holds?: readonly string[]
      readonly none?: boolean
    }
  | { readonly by: 'exact'; readonly test: TextTest; readonly none?: boolean }
  | {
      readonly by: 'spans'
      readonly spans: readonly Span[]
      readonly above?: boolean
      readonly below?: boolean
      readonly none?: boolean
    }
  | { readonly by: 'truth'; readonly truths: readonly boolean[]; readonly none?: boolean }
  | { readonly by: 'presence'; readonly missing: boolean }
  /** Of a host's own condition: a test of every value, or the rows themselves. */
  | { readonly by: 'value'; readonly name: string; readonly test: (value: NonNullable<Value>) => boolean }
  | { readonly by: 'rows'; readonly name: string; readonly rows: (column: Column, count: number) => Bits }
  /** The part says something that cannot be read; no row meets it, and the report tells why. */
  | { readonly by: 'nothing'; readonly problem: PartProblem }

export type TextTest = (text: string) => boolean

/** Why a part cannot be asked. */
export type PartProblem =
  | { readonly code: 'not-for-type'; readonly kind: string; readonly type: FieldType }
  | { readonly code: 'not-readable'; readonly text: string; readonly type: FieldType }
  | { readonly code: 'not-a-pattern'; readonly text: string }
  | { readonly code: 'patterns-not-there' }
  /** The service that holds the rows does not know the column: the page works it out. */
  | { readonly code: 'not-in-service' }
  | { readonly code: 'unknown-kind'; readonly name: string; readonly nearest: string | null }
  | { readonly code: 'values-not-valid'; readonly name: string; readonly reason: string }
  | { readonly code: 'threw'; readonly name: string; readonly reason: string }

/** What a part is asked of, and what its kind may need besides. */
export interface AskedOf {
  readonly field: Field
  readonly clock: Clock
  /** Makes a test of a pattern in RE2 syntax, null where it is not one; null: not loaded. */
  readonly pattern: PatternCompiler | null
  readonly own: OwnConditions
}

export type PatternCompiler = (pattern: string) => TextTest | null

/** Words in which conditions are summed up; replaceable as all texts of the grid. */
export interface ConditionWords {
  readonly and: string
  readonly or: string
  readonly more: (count: number) => string
  readonly contains: (text: string) => string
  readonly excludes: (text: string) => string
  readonly starts: (text: string) => string
  readonly ends: (text: string) => string
  readonly equals: (text: string) => string
  readonly differs: (text: string) => string
  readonly pattern: (text: string) => string
  readonly exactly: (text: string) => string
  readonly above: (text: string) => string
  readonly atLeast: (text: string) => string
  readonly below: (text: string) => string
  readonly atMost: (text: string) => string
  readonly between: (from: string, to: string) => string
  readonly relative: (which: 'this' | 'last' | 'next', unit: CalendarUnit, count: number) => string
  readonly noneOf: (texts: string) => string
  readonly allOf: (texts: string) => string
  readonly missing: string
  readonly present: string
  /** The host's own conditions, which sum themselves up. */
  readonly own: OwnConditions
}

export const CALENDAR_UNITS = ['day', 'week', 'month', 'quarter', 'year'] as const
export type CalendarUnit = (typeof CALENDAR_UNITS)[number]

/** Writes a value of the column as the reader sees it; texts that say a date stay as they are. */
export type ShowAmount = (value: Value) => string

/** With what a part is written as a phrase. */
export interface PhraseWriter {
  readonly field: Field
  /** A value as the column writes it, so that it is read back as the same. */
  readonly value: (given: string | number | boolean) => string
  /** A text in quotation marks. */
  readonly quoted: (text: string) => string
  /** JSON without the characters that a phrase would read as something else. */
  readonly json: (value: unknown) => string
}

/** One kind of condition part. To add a kind: it stands in a file beside this one, and in the list in `index.ts`. */
export interface ConditionKind<
  Name extends string = string,
  Schema extends z.ZodMiniObject = z.ZodMiniObject,
> {
  readonly name: Name
  /** What it asks, in a sentence that names its properties. */
  readonly description: string
  /** The part as JSON; `kind` is its name. */
  readonly schema: Schema
  /** The column types it can ask. */
  readonly types: readonly FieldType[]
  /** What the part asks of a column. */
  ask(part: z.infer<Schema>, of: AskedOf): Ask
  /** The part in a few words, as a chip shows it. */
  summary(part: z.infer<Schema>, show: ShowAmount, words: ConditionWords): string
  /** The part as a phrase that reads back as the same. */
  phrase(part: z.infer<Schema>, write: PhraseWriter): string
  /** The part as an expression that is true of the same rows; null where there is none. */
  expression(part: z.infer<Schema>, field: Field): string | null
}

export const TEXT: readonly FieldType[] = ['text']
const TEMPORAL: readonly FieldType[] = ['date', 'time', 'datetime']
export const NUMERIC: readonly FieldType[] = ['integer', 'number', ...TEMPORAL]
export const EVERY: readonly FieldType[] = ['text', 'tags', 'boolean', ...NUMERIC]

/** A number as the column keeps it, or a text that says one: digits, `2024-06-14`, `2024-06`, `2024-Q2`, `09:30`. */
export const amountSchema = z.union([z.number(), z.string().check(z.minLength(1))])
export type Amount = z.infer<typeof amountSchema>

/** Lets a kind's own part type be known inside it, and forgotten in the list of all kinds. */
export function conditionKind<const Name extends string, Schema extends z.ZodMiniObject>(
  kind: ConditionKind<Name, Schema>,
): ConditionKind<Name, Schema> {
  return kind
}

/**
 * A kind of condition of a host's own, named by the parts whose kind is `own`. It works wherever the engine runs,
 * whether or not an editor for it is on screen.
 */
export interface OwnCondition<Values = unknown> {
  /** What its parts hold besides its name; parts that do not fit are told of and met by no row. */
  readonly values: ValuesSchema<Values>
  /** The column types it can ask; default: all. */
  readonly types?: readonly FieldType[]
  /**
   * Whether a value meets it; asked once per distinct text, and once a row elsewhere. Never asked of missing values.
   * Dates come as days since 1970, dates with time as milliseconds, tags as a list.
   */
  test?(value: NonNullable<Value> | readonly string[], values: Values): boolean
  /** In place of `test`: the rows that meet it, one bit a row, least first; quicker over numbers. */
  rows?(column: Column, values: Values, rowCount: number): Bits
  /** A few words that sum it up, as a chip shows them. */
  summary(values: Values, show: ShowAmount): string
}

/** What reads the values that a condition is given; schemas of zod are such. */
interface ValuesSchema<Values> {
  safeParse(given: unknown):
    | { readonly success: true; readonly data: Values }
    | {
        readonly success: false
        readonly error: { readonly issues: readonly { readonly message: string }[] }
      }
}

/** Conditions of a host's own by name. Their values are known to each alone. */
export type OwnConditions = Readonly<Partial<Record<string, OwnCondition>>>
