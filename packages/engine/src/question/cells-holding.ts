import { textToEdit } from '../check/read-typed.ts'
import { replacer, type Replacing } from '../check/replace-text.ts'
import { hasBit } from '../table/bits.ts'
import { valueAt, type Value } from '../table/column.ts'
import type { Format } from '../table/format.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { idOfRow, type PackedRows, type RowId } from '../table/row-id.ts'
import { SLICE } from '../work/work.ts'
import type { Question, ViewId } from './question.ts'

export interface CellsHoldingArgs {
  readonly view: ViewId
  readonly column: string
  /** How the column writes its values: what an editor would begin with is looked through. */
  readonly format: Format
  readonly replacing: Replacing
  /** Only these of the rows that pass; null: all of them. */
  readonly among: PackedRows | null
  /** So many are given out at most. */
  readonly limit: number
}

/** Cells in which something is found, in the order of the view. */
export interface CellsHolding {
  readonly total: number
  readonly rows: readonly RowId[]
  readonly values: readonly Value[]
}

/** Making and looking through a text costs about half a microsecond. */
const ROWS_A_SLICE = SLICE >>> 3

/** The cells of a column in passing rows that hold a text. One pass; of a text each different value is read once. */
export const cellsHolding: Question<CellsHoldingArgs, CellsHolding> = {
  *answer(asked, { view, column: key, format, replacing, among, limit }) {
    const reader = asked.view(view)
    const { table } = reader
    const place = table.fields.findIndex(field => field.key === key)
    const rows: RowId[] = []
    const values: Value[] = []
    if (place < 0) return { total: 0, rows, values }
    const [field, column] = [table.fields[place], table.columns[place]]
    const wanted = among && bitsOfPacked(table, among)
    const replace = replacer(replacing)
    const known = new Map<Value, boolean>()
    const holds = (value: Value): boolean => {
      const told = known.get(value)
      if (told !== undefined) return told
      const found = replace(textToEdit(value, field, format)) !== null
      if (known.size < MOST_KNOWN) known.set(value, found)
      return found
    }
    let total = 0
    for (let position = 0; position < reader.rowCount; position++) {
      if (position % ROWS_A_SLICE === ROWS_A_SLICE - 1) yield
      const row = reader.rowAt(position)
      if (wanted && !hasBit(wanted, row)) continue
      const value = valueAt(column, row)
      if (!holds(value)) continue
      total++
      if (rows.length >= limit) continue
      rows.push(idOfRow(table, row))
      values.push(value)
    }
    return { total, rows, values }
  },
}

/** Different values of which is kept whether something is found in them. */
const MOST_KNOWN = 1 << 14
