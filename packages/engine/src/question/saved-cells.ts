import type { KeyValue } from '../key/key-value.ts'
import { valueAt, type Value } from '../table/column.ts'
import { idOfRow, type RowId } from '../table/row-id.ts'
import type { Question } from './question.ts'

/** What is saved of a row; null in its place: it is not there. */
export interface SavedRow {
  readonly id: RowId
  /** In the order of the columns asked; null also for columns that are not there. */
  readonly values: readonly Value[]
}

const ROWS_A_SLICE = 1 << 12

/** The rows that some keys name and what is saved of them, whatever is pending. */
export const savedCells: Question<
  {
    readonly keyFields: readonly string[]
    readonly keys: readonly KeyValue[]
    readonly columns: readonly string[]
  },
  (SavedRow | null)[]
> = {
  apart: true,
  *answer({ edits }, { keyFields, keys, columns }) {
    if (keyFields.length === 0) return keys.map(() => null)
    const rows = yield* edits.find(keyFields, keys)
    const { table } = edits
    const places = columns.map(column => table.fields.findIndex(({ key }) => key === column))
    const saved: (SavedRow | null)[] = []
    for (const [nth, row] of rows.entries()) {
      const values = places.map(place => (place < 0 || row < 0 ? null : valueAt(table.columns[place], row)))
      saved.push(row < 0 ? null : { id: idOfRow(table, row), values })
      if (nth % ROWS_A_SLICE === ROWS_A_SLICE - 1) yield
    }
    return saved
  },
}
