import type { GroupPath } from '../flow/line.ts'
import { compactRows } from '../selection/row-set.ts'
import type { Rows } from '../table/row-id.ts'
import type { Question, ViewId } from './question.ts'

/** The rows of the group that a path names in a view, those of closed groups in it as well, in whatever order; none where there is no such group. */
export const rowsOfGroup: Question<{ readonly view: ViewId; readonly path: GroupPath }, Rows> = {
  *answer(asked, { view, path }) {
    const reader = asked.view(view)
    yield
    const group = reader.findGroup(path)
    return group < 0
      ? { kind: 'run', from: 0, to: 0 }
      : compactRows(reader.rowsOfGroup(path.length - 1, group))
  },
}
