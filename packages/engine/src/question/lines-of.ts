import { NO_LINE, type LineIndex } from '../flow/line.ts'
import type { RowId } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/**
 * The lines of a view that show rows, in the order asked; −1 where one is held back. A row in a closed group has the
 * line of the group's head or, with `ownOnly`, none.
 */
export const linesOf: Question<
  { readonly view: ViewId; readonly rows: readonly RowId[]; readonly ownOnly?: boolean },
  LineIndex[]
> = {
  apart: true,
  *answer(asked, { view, rows, ownOnly = false }) {
    const reader = asked.view(view)
    return rows.map(row => {
      const line = reader.lineOf(row)
      return ownOnly && line >= 0 && reader.line(line).kind !== 'row' ? NO_LINE : line
    })
  },
}
