import { compactRows } from '../selection/row-set.ts'
import type { Rows } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/** All rows that pass in a view, also those of closed groups: in their order, or, with `anyOrder`, as briefly as can be. */
export const passingRows: Question<{ readonly view: ViewId; readonly anyOrder?: boolean }, Rows> = {
  *answer(asked, { view, anyOrder = false }) {
    const rows = asked.view(view).passingRows()
    if (!anyOrder) return rows
    yield
    return compactRows(rows)
  },
}
