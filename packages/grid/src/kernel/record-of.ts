import type { RowRecord } from '@vast-meadow/engine'

/** A row as events tell it: its fields, with the names that the host's own type of a row has. */
export type RecordOf<Row extends object> = RowRecord & {
  readonly [Field in keyof Row & string]?: RowRecord[string]
}
