import type { SourceProblem } from '../read/source-problem.ts'
import { readProblemText } from './read-report-text.ts'

/** The plain sentence for a problem: what, where, and what to do. */
export function problemText(problem: SourceProblem): string {
  switch (problem.code) {
    case 'recipe-not-valid':
      return `The recipe for made-up rows is not valid at ${problem.path || 'its start'}: ${problem.reason}`
    case 'failed':
      return `The rows could not be read: ${problem.reason}`
    default:
      return readProblemText(problem)
  }
}
