import type * as z from 'zod'
import type { FieldType, Value } from '../../table/column.ts'

/**
 * What a part asks, in the few shapes that the columns answer quickly. `text` tests folded text, once per distinct
 * one; `holds`, where given, is a text that every match contains, so that joined text can be searched for it.
 */
export type Ask =
  | { readonly by: 'text'; readonly test: (folded: string) => boolean; readonly holds?: string }
  | { readonly by: 'range'; readonly from: number; readonly to: number }
  | { readonly by: 'values'; readonly values: readonly Value[] }
  | { readonly by: 'presence'; readonly missing: boolean }

/** One kind of condition part. To add a kind: a file beside this one, and a line in `index.ts`. */
export interface ConditionKind<Schema extends z.ZodObject = z.ZodObject> {
  readonly name: string
  /** The part as JSON; `kind` is its name. */
  readonly schema: Schema
  /** The column types it can ask. */
  readonly types: readonly FieldType[]
  /** What the part asks of a column of the given type. */
  readonly ask: (part: z.infer<Schema>, type: FieldType) => Ask
  /** The part in a few words, as a chip shows it; `show` writes a value as the column does. */
  readonly phrase: (part: z.infer<Schema>, show: (value: Value) => string) => string
}

export const NUMERIC: readonly FieldType[] = ['integer', 'number', 'date', 'time', 'datetime']
export const EVERY: readonly FieldType[] = ['text', 'tags', 'boolean', ...NUMERIC]

/** Lets a kind's own part type be known inside it, and forgotten in the list of all kinds. */
export function conditionKind<Schema extends z.ZodObject>(
  kind: ConditionKind<Schema>,
): ConditionKind<Schema> {
  return kind
}
