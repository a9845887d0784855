import type { Field, Value } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import type { Condition, ConditionPart } from './condition.ts'
import { kindNamed } from './kinds/index.ts'
import type { ConditionWords, PartProblem, ShowAmount } from './kinds/kind.ts'
import { conditionWords } from './words.ts'

/** The condition in a few words, as chips and announcements say it. `show` writes values as the column does. */
export function conditionSummary(
  condition: Condition,
  field: Field,
  show: Show,
  words: ConditionWords = conditionWords,
): string {
  const amount = showAmount(field, show)
  const joint = condition.match === 'any' ? words.or : words.and
  return condition.parts.map(part => summaryOf(part, amount, words)).join(` ${joint} `)
}

function summaryOf(part: ConditionPart, show: ShowAmount, words: ConditionWords): string {
  const text = kindNamed(part.kind).summary(part, show, words)
  // Values picked from a list are exact by nature; that need not be said.
  const said = 'exact' in part && part.exact && !('values' in part)
  return said ? words.exactly(text) : text
}

/** Texts in quotes; what says a number or a date stays as it is said. */
const showAmount =
  ({ type }: Field, show: Show) =>
  (value: Value): string =>
    type === 'text' ? `“${String(value)}”` : typeof value === 'string' ? value : show(value)

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
    case 'threw':
      return `“${problem.name}” failed: ${problem.reason}`
  }
}
