import type { Binding } from '../flow/view-request.ts'
import type { Question } from './question.ts'
import type { SourceDescription } from './source-description.ts'

/** How things stand now; rows may have come or changed since the rows were opened. */
export const description: Question<{ readonly binding?: Binding }, SourceDescription> = {
  *answer(asked) {
    return asked.describe()
  },
}
