import type { QuestionProblem } from '../language/problem.ts'

/** What is wrong, in a sentence for whoever asked. */
export function problemText(problem: QuestionProblem): string {
  switch (problem.code) {
    case 'unreadable':
      return problem.near === ''
        ? `${problem.option} ends before it is complete.`
        : `${problem.option} cannot be read at character ${problem.at + 1}, near “${problem.near}”.`
    case 'too-deep':
      return `${problem.option} is nested more than ${problem.most} deep.`
    case 'no-such-property':
      return `There is no property “${problem.name}”.`
    case 'no-such-function':
      return `There is no function “${problem.name}” here.`
    case 'wrong-type':
      return `Expected ${problem.what}, but was given ${problem.given}.`
    case 'wrong-value':
      return `“${problem.property}” takes ${problem.what}.`
    case 'not-json':
      return 'What is to be saved is no JSON object, or is not said to be one.'
    case 'fixed':
      return `“${problem.property}” cannot be changed here.`
    case 'breaks-rule':
      return 'The database does not take such a row.'
    case 'not-storable':
      return 'The database cannot hold one of the values.'
    case 'row-is-there':
      return 'There is a row with this key already.'
    case 'changed-meanwhile':
      return 'The row was changed meanwhile.'
    case 'not-a-literal':
      return `“${problem.text}” is not a value that can be compared with here.`
    case 'not-a-pattern':
      return `“${problem.text}” is not a pattern in RE2 syntax.`
    case 'unknown-option':
      return `There is no query option “${problem.name}”.`
    case 'wrong-number':
      return `${problem.option} takes a whole number, not “${problem.text}”.`
    case 'not-offered':
      return `${problem.what} is not offered here.`
    case 'no-such-table':
      return `There is no “${problem.name}” here.`
    case 'no-such-row':
      return 'There is no such row.'
    case 'not-allowed':
      return 'This is not open to whoever asks.'
    case 'method-not-allowed':
      return `${problem.method} is not answered at this address.`
    case 'too-many-rows':
      return `At most ${problem.most} rows are answered at once.`
    case 'too-long':
      return 'The question is too long.'
    case 'too-slow':
      return `The answer took more than ${problem.seconds} seconds, and was given up.`
    case 'too-busy':
      return 'Too many questions are being answered. Ask again in a moment.'
    case 'engine-gone':
      return 'The database does not answer.'
    case 'preparing':
      return problem.doing
    case 'given-up':
      return 'The question was given up by whoever asked.'
    case 'failed':
      return 'The question could not be answered.'
  }
}

/** The status of HTTP that says so. */
export function statusOf({ code }: QuestionProblem): number {
  switch (code) {
    case 'no-such-table':
    case 'no-such-row':
      return 404
    case 'not-allowed':
    case 'fixed':
      return 403
    case 'method-not-allowed':
      return 405
    case 'row-is-there':
    case 'breaks-rule':
      return 409
    case 'changed-meanwhile':
      return 412
    case 'too-long':
      return 413
    case 'too-busy':
    case 'engine-gone':
      return 503
    // It is no failure: the rows will be there.
    case 'preparing':
      return 202
    case 'too-slow':
      return 504
    case 'not-offered':
      return 501
    case 'failed':
      return 500
    default:
      return 400
  }
}
