import type { Binding } from '../flow/view-request.ts'
import { valueAt, type Value } from '../table/column.ts'
import { rowOfId, type RowId } from '../table/row-id.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { Question } from './question.ts'

/** A row as a plain object of its fields; tags as a list of texts. */
export type RowRecord = Readonly<Record<string, Value | readonly string[]>>

const ROWS_A_SLICE = 1 << 11

/** Rows as plain objects, in the order asked; rows that are gone are left out. */
export const records: Question<{ readonly rows: readonly RowId[]; readonly binding?: Binding }, RowRecord[]> =
  {
    *answer({ flow: { table } }, { rows }) {
      const { fields, columns } = table
      const told: RowRecord[] = []
      for (const [nth, id] of rows.entries()) {
        const row = rowOfId(table, id)
        if (row < 0) continue
        const record: Record<string, Value | readonly string[]> = {}
        for (const [place, { key, type, internal }] of fields.entries()) {
          if (internal) continue
          const value = valueAt(columns[place], row)
          record[key] = type === 'tags' && value !== null ? tagsOf(String(value)) : value
        }
        told.push(record)
        if (nth % ROWS_A_SLICE === ROWS_A_SLICE - 1) yield
      }
      return told
    },
  }
