import type { PartProblem } from '../condition/kinds/kind.ts'

/** Why a part of a condition cannot be asked, in a sentence. */
export function partProblemText(problem: PartProblem): string {
  switch (problem.code) {
    case 'not-for-type':
      return `“${problem.kind}” cannot be asked of a column of type ${problem.type}.`
    case 'not-readable':
      return `“${problem.text}” is not a value of type ${problem.type}.`
    case 'not-a-pattern':
      return `“${problem.text}” is not a pattern in RE2 syntax.`
    case 'patterns-not-there':
      return 'Patterns cannot be used, because what reads them could not be loaded.'
    case 'unknown-kind':
      return `There is no condition “${problem.name}” among this grid’s parts.${problem.nearest === null ? '' : ` Did you mean “${problem.nearest}”?`}`
    case 'values-not-valid':
      return `The values of “${problem.name}” are not right: ${problem.reason}`
    case 'not-in-service':
      return 'This column is worked out in the page from rows that a service holds, which therefore cannot be asked for it.'
    case 'threw':
      return `“${problem.name}” failed: ${problem.reason}`
  }
}
