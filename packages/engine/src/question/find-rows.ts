import type { KeyValue } from '../key/key-value.ts'
import { idOfRow, type RowId } from '../table/row-id.ts'
import type { Question } from './question.ts'

/** The rows of keys, null where there is none. No key fields: a key is the row's own id. */
export const findRows: Question<
  { readonly keyFields: readonly string[]; readonly keys: readonly KeyValue[] },
  (RowId | null)[]
> = {
  apart: true,
  *answer({ edits }, { keyFields, keys }) {
    const rows = yield* edits.find(keyFields, keys)
    return Array.from(rows, row => (row < 0 ? null : idOfRow(edits.table, row)))
  },
}
