import type { SourceProblem } from '../read/source-problem.ts'
import { readProblemText } from './read-report-text.ts'

/** The plain sentence for a problem: what, where, and what to do. */
export function problemText(problem: SourceProblem): string {
  switch (problem.code) {
    case 'recipe-not-valid':
      return `The recipe for made-up rows is not valid at ${problem.path || 'its start'}: ${problem.reason}`
    case 'no-such-source':
      return `Rows cannot come from a source of the kind “${problem.kind}”. Give a list of rows, a source of your own with view and ask, or one of the kinds ${problem.kinds.join(', ')}.`
    case 'failed':
      return `The rows could not be read: ${problem.reason}`
    default:
      return readProblemText(problem)
  }
}
