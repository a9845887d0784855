import type { PendingRow } from '../pending/pending-changes.ts'
import type { Question } from './question.ts'

type NoArgs = Readonly<Record<string, never>>

/** What was typed and is not saved: by row, with what is saved. */
export const pending: Question<NoArgs, PendingRow[]> = {
  *answer({ pending: changes }) {
    return changes.list()
  },
}
