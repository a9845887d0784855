import type { Field, Value } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import type { Condition, ConditionPart } from '../condition/condition.ts'
import { kindNamed } from '../condition/kinds/index.ts'
import type { ConditionWords, ShowAmount } from '../condition/kinds/kind.ts'
import { conditionWords } from './condition-words.ts'

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
