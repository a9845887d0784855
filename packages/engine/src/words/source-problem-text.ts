import type { SourceProblem } from '../read/source-problem.ts'
import { readProblemText } from './read-report-text.ts'

/** The plain sentence for a problem: what, where, and what to do. */
export function problemText(problem: SourceProblem): string {
  switch (problem.code) {
    case 'recipe-not-valid':
      return `The recipe for made-up rows is not valid at ${problem.path || 'its start'}: ${problem.reason}`
    case 'no-such-source':
      return `Rows cannot come from a source of the kind “${problem.kind}”. Give a list of rows, a source of your own with view and ask, or one of the kinds ${problem.kinds.join(', ')}.`
    case 'service-not-reached':
      return `${problem.service} could not be reached (${problem.reason}).`
    case 'service-refused': {
      const said = problem.reason === '' ? '' : ` It says: ${problem.reason}`
      if (problem.status === 401 || problem.status === 403)
        return `${problem.service} wants to know who asks. Sign in, and ask again.${said}`
      return `${problem.service} answers with status ${problem.status}.${said}`
    }
    case 'service-unreadable':
      return `What ${problem.service} answers to ${problem.what} is not what OData wants it to be.`
    case 'service-has-no-such-rows': {
      const { names } = problem
      const have = names.length === 0 ? 'no entity sets' : names.slice(0, 8).join(', ')
      return `${problem.service} has no entity set “${problem.rows}”. It has ${have}.`
    }
    case 'service-rows-moved':
      return `Rows of the service at ${problem.service} were changed while they were read: one came twice. What is shown was asked for again.`
    case 'service-too-many-rows':
      return `${problem.service} holds the rows, of which more than ${problem.most} cannot be picked one by one. Pick fewer, or all that pass.`
    case 'service-too-many-groups':
      return `There are more than ${problem.most} groups. Group by a column with fewer values, or by ranges of them.`
    case 'failed':
      return `The rows could not be read: ${problem.reason}`
    default:
      return readProblemText(problem)
  }
}
