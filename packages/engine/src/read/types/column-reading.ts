import type { FieldType } from '../../table/column.ts'
import type { DateOrder, TextStyle, Thousands } from './text-style.ts'
import type { Misfits } from './survey-texts.ts'

/** How a builder wants a column read; what is left out is found out. */
export interface ColumnReadOptions {
  readonly type?: FieldType
  readonly decimal?: '.' | ','
  readonly thousands?: Thousands
  readonly dateOrder?: DateOrder
  readonly zoned?: boolean
  /** For `tags`: what parts them; default a comma. */
  readonly separator?: string
}

/** By field key. */
export type ColumnsReadOptions = Readonly<Record<string, ColumnReadOptions>>

/** What is asked of a field, whatever it is called: `constructor` is a name like any other. */
export const askedOf = (asked: ColumnsReadOptions | undefined, key: string): ColumnReadOptions | undefined =>
  asked && Object.hasOwn(asked, key) ? asked[key] : undefined

/** How a column was read, and what did not fit. */
export interface ColumnReading {
  readonly key: string
  readonly type: FieldType
  /** The builder asked for the type; values that do not fit it are missing, and listed as misfits. */
  readonly asked: boolean
  /** How its texts were read, where not in the plainest way. */
  readonly style: TextStyle | null
  /** For text: what nearly all of its values would fit. */
  readonly likely: TextStyle | null
  /** Other reading that fits every value as well: for 03/04/2024 the month first. */
  readonly ambiguous: TextStyle | null
  /** Values that do not fit `likely`, or the type asked for. */
  readonly misfits: Misfits
  /** Values that say of themselves that they are no number (NaN): they are missing. */
  readonly notNumbers?: number
  /** Times that were told finer than the milliseconds that are kept: they are cut. */
  readonly finer?: number
}
