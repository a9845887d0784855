import type { LineIndex } from '../flow/line.ts'
import type { RowId } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/** The lines of a view that show rows, in the order asked; −1 where one is held back. */
export const linesOf: Question<{ readonly view: ViewId; readonly rows: readonly RowId[] }, LineIndex[]> = {
  *answer(asked, { view, rows }) {
    const reader = asked.view(view)
    return rows.map(row => reader.lineOf(row))
  },
}
