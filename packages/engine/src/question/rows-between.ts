import type { LineIndex } from '../flow/line.ts'
import { compactRows } from '../selection/row-set.ts'
import type { Rows } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/** The rows that stand on the lines `from` up to `to` of a view, in whatever order. */
export const rowsBetween: Question<
  { readonly view: ViewId; readonly from: LineIndex; readonly to: LineIndex },
  Rows
> = {
  *answer(asked, { view, from, to }) {
    const rows = asked.view(view).rowsBetween(from, to)
    yield
    return compactRows(rows)
  },
}
