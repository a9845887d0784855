import type { KeyValue } from '../key/key-value.ts'
import { rowsIn, type Rows } from '../table/row-id.ts'
import { valueAt } from '../table/column.ts'
import { rowOfId, type RowId } from '../table/row-id.ts'
import type { Question } from './question.ts'

const ROWS_A_SLICE = 1 << 14

/** The keys of rows, in the order asked; null for rows that are gone. No key fields: a row's id is its key. */
export const keysOf: Question<{ readonly keyFields: readonly string[]; readonly rows: Rows }, KeyValue[]> = {
  apart: true,
  *answer({ edits: { table } }, { keyFields, rows }) {
    const columns = keyFields.map(key => table.columns[table.fields.findIndex(field => field.key === key)])
    const keyOf = (id: RowId): KeyValue => {
      if (columns.length === 0) return id
      const row = rowOfId(table, id)
      const parts = columns.map(column => (column && row >= 0 ? valueAt(column, row) : null))
      return parts.length === 1 ? parts[0] : parts
    }
    const keys: KeyValue[] = []
    for (const id of rowsIn(rows)) if (keys.push(keyOf(id)) % ROWS_A_SLICE === 0) yield
    return keys
  },
}
