import type { GroupPath, HeadLine } from '../flow/line.ts'
import type { Question, ViewId } from './question.ts'

/** The head of the group that a path names in a view, also where it is in a closed one; null: there is none. */
export const groupAt: Question<{ readonly view: ViewId; readonly path: GroupPath }, HeadLine | null> = {
  *answer(asked, { view, path }) {
    const reader = asked.view(view)
    yield
    const group = reader.findGroup(path)
    return group < 0 ? null : reader.head(path.length - 1, group)
  },
}
