import { DEFAULT_LOCALE } from '../table/default-locale.ts'
import type { SourceProblem } from '../read/source-problem.ts'
import { readProblemText } from './read-report-text.ts'

/** What a service cannot do that only lists rows. */
const CANNOT = {
  search: () => 'search',
  order: () => 'order by this',
  groups: () => 'group in this way',
  condition: (column: string) => `narrow by “${column}” in this way`,
}

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
    case 'listing-unreadable':
      return `${problem.service} answers with no list of rows at “${problem.pointer}”. Say where they are in its answer (rows).`
    case 'listing-without-key':
      return `Rows of ${problem.service} have no “${problem.key}”, which is to name them. Say which fields do (key).`
    case 'listing-parts-alike':
      return `${problem.service} answers with the same rows whichever part is asked for: ${problem.parameters.join(' and ')} have no effect. Say which parameters ask for a part (page).`
    case 'listing-not-of-type':
      return `“${problem.text}” in the field “${problem.field}” is not of the type ${problem.type}, and is shown as missing. Say the field’s type (fields).`
    case 'near-too-many':
      return `${problem.service} cannot ${CANNOT[problem.what](problem.column)}, and ${problem.rows.toLocaleString(DEFAULT_LOCALE)} rows are more than the ${problem.most.toLocaleString(DEFAULT_LOCALE)} with which the page does it by itself. Narrow them first.`
    case 'service-rows-moved':
      return `Rows of the service at ${problem.service} were changed while they were read: one came twice. What is shown was asked for again.`
    case 'service-too-many-rows':
      return `${problem.service} holds the rows, of which more than ${problem.most} cannot be picked one by one. Pick fewer, or all that pass.`
    case 'service-too-many-groups':
      return `There are more than ${problem.most} groups. Group by a column with fewer values, or by ranges of them.`
    case 'service-too-many-kept':
      return `More than ${problem.most} groups would be kept, and more than ${problem.most} not: ${problem.service} cannot be asked for so many by name. Keep fewer, for instance the first ones only.`
    case 'failed':
      return `The rows could not be read: ${problem.reason}`
    default:
      return readProblemText(problem)
  }
}
