import type { Binding } from '../flow/view-request.ts'
import { valueAt, type Value } from '../table/column.ts'
import { rowOfId, type RowId } from '../table/row-id.ts'
import type { Question } from './question.ts'

/** Cells of some rows: what they show, and their values; rows × columns. */
export interface RowCells {
  readonly texts: readonly string[]
  readonly values: readonly Value[]
}

const CELLS_A_SLICE = 1 << 12

/** The cells of rows wherever they stand, also where they are held back; empty for rows and columns that are not there. */
export const rowCells: Question<
  { readonly rows: readonly RowId[]; readonly columns: readonly string[]; readonly binding?: Binding },
  RowCells
> = {
  *answer({ flow }, { rows, columns }) {
    const texts: string[] = []
    const values: Value[] = []
    for (const id of rows) {
      const row = rowOfId(flow.table, id)
      for (const key of columns) {
        const place = flow.columnIndexes.get(key)
        const value = place === undefined || row < 0 ? null : valueAt(flow.table.columns[place], row)
        texts.push(place === undefined || row < 0 ? '' : flow.shows[place](value))
        values.push(value)
        if (texts.length % CELLS_A_SLICE === 0) yield
      }
    }
    return { texts, values }
  },
}
