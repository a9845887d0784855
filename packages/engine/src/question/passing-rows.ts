import type { Rows } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/** All rows that pass in a view, in their order, also those of closed groups. */
export const passingRows: Question<{ readonly view: ViewId }, Rows> = {
  *answer(asked, { view }) {
    return asked.view(view).passingRows()
  },
}
