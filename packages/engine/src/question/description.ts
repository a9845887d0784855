import type { Binding, SourceDescription } from '../source/row-source.ts'
import type { Question } from './question.ts'

/** How things stand now; rows may have come or changed since the rows were opened. */
export const description: Question<{ readonly binding?: Binding }, SourceDescription> = {
  *answer(asked) {
    return asked.describe()
  },
}
