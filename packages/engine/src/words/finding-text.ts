import { kindOf, type Summary } from '../summary/summary.ts'
import { summaryWords } from './summary-words.ts'
import { DEFAULT_LOCALE } from '../table/default-locale.ts'
import { expressionProblemText } from './expression-problem-text.ts'
import { styleText } from './style-text.ts'
import type { Finding, Remedy } from '../definition/findings.ts'

const list = (names: readonly string[]): string => names.map(name => `“${name}”`).join(' with ')
const count = (n: number, one: string, many: string): string =>
  `${n.toLocaleString(DEFAULT_LOCALE)} ${n === 1 ? one : many}`

/** A finding in one sentence: what, where, and what comes of it. */
export function findingText(finding: Finding): string {
  switch (finding.code) {
    case 'field-not-in-data':
      return `The column “${finding.key}” shows nothing: the rows have no such field.`
    case 'expression-wrong':
      return `${expressionPlace(finding)} is not there: ${expressionProblemText(finding.problem)}`
    case 'key-not-in-data':
      return `The key ${list(finding.fields)} is not in the rows, so rows cannot be named.`
    case 'key-missing':
      return `${count(finding.rows, 'row has', 'rows have')} no key: ${list(finding.fields)} is missing there.`
    case 'key-doubled':
      return `${count(finding.rows, 'row has', 'rows have')} the key of another: ${list(finding.fields)} is the same in rows ${finding.example[0] + 1} and ${finding.example[1] + 1}.`
    case 'no-key':
      return `Rows have no key, so a selection is lost when they are replaced. ${list(finding.proposed)} names every row.`
    case 'values-as-text':
      return `“${finding.key}” is kept as text, but every value says ${styleText(finding.style)}; as text it is ordered letter by letter.`
    case 'mixed-types':
      return `“${finding.key}” is text because of ${count(finding.misfits, 'value', 'values')} (${quoted(finding.examples)}); all others say ${styleText(finding.style)}.`
    case 'asked-type-misfits':
      return `${count(finding.misfits, 'value', 'values')} of “${finding.key}” (${quoted(finding.examples)}) could not be read as ${finding.type} and ${finding.misfits === 1 ? 'is' : 'are'} missing.`
    case 'ambiguous':
      return `“${finding.key}” was read as ${styleText(finding.style)}; every value could as well be ${styleText(finding.other)}.`
    case 'texts-like-tags':
      return `“${finding.key}” lists words parted by “${finding.separator}” (${quoted(finding.examples)}); as text, each list is a value of its own.`
    case 'title-missing':
      return `The column of “${finding.key}” has no title; readers see an empty heading.`
    case 'detail-column-absent':
      return `Open rows are to list “${finding.key}”, and there is no such column.`
    case 'deletes-without-key':
      return `“${finding.title}” is to take rows out, and nothing names a row: they need a key.`
    case 'changes-without-key':
      return `Cells of “${finding.key}” are to be changed, and nothing names a row: they need a key.`
    case 'choices-absent':
      return `Cells of “${finding.key}” are to be chosen by “${finding.of}”, and there is no such field.`
    case 'title-doubled':
      return `Two columns are called “${finding.title}”: of “${finding.other}” and of “${finding.key}”.`
    case 'width-cuts-off':
      return `“${finding.key}” cuts off ${Math.round(finding.share * 100)} % of its values at ${finding.width} px.`
    case 'format-hides':
      return `“${finding.key}” shows ${count(finding.decimals, 'decimal', 'decimals')} and makes different values look the same; the data has ${finding.needed}.`
    case 'condition-on-hidden':
      return `“${finding.key}” is hidden, and its condition alone holds ${count(finding.rows, 'row', 'rows')} back.`
    case 'many-groups':
      return `Rows are grouped by “${finding.key}” into ${finding.groups.toLocaleString(DEFAULT_LOCALE)} groups, which are no easier to read than the rows.`
    case 'group-per-row':
      return `Every row is a group of its own: “${finding.key}” has a different value in each of ${finding.groups.toLocaleString(DEFAULT_LOCALE)} rows.`
    case 'level-adds-nothing':
      return `The level by “${finding.key}” adds nothing: each group above it holds one.`
    case 'summary-senseless':
      return `${summaryWords[finding.summary]} makes no sense for “${finding.key}”, which holds values of type ${finding.type}; nothing is shown.`
    case 'mean-of-ratio':
      return `The mean of “${finding.key}” is a mean of ratios, in which a small row weighs as much as a large one; it is not the ratio of the sums in “${finding.expression}”.`
    case 'order-refused':
      return `Rows are ordered by “${finding.key}”, which refuses to be ordered by: readers cannot change it.`
    case 'ordered-as-text':
      return `“${finding.key}” is ordered by what it shows, letter by letter, though it holds values of type ${finding.type}.`
    case 'pattern-slow':
      return `The pattern on “${finding.key}” takes ${finding.ms} ms, so each letter typed is felt. A plain text is found faster.`
  }
}

function expressionPlace({ of, key }: Extract<Finding, { code: 'expression-wrong' }>): string {
  if (of === 'style') return `Style rule ${key}`
  return of === 'column' ? `The computed column “${key}”` : `The condition of an action in “${key}”`
}

const quoted = (examples: readonly string[]): string =>
  examples
    .slice(0, 3)
    .map(text => `“${text.slice(0, 30)}”`)
    .join(', ')

/** What a remedy does, for its button. */
export function remedyText(finding: Finding, remedy: Remedy): string {
  if (remedy.kind === 'read') {
    const { type } = remedy.as
    if (!type || type === 'text') return 'Keep it as text'
    const kept = finding.code === 'ambiguous' && remedy.as === finding.style
    return `${kept ? 'It is right: ' : 'Read as '}${styleText({ ...remedy.as, type })}`
  }
  if (remedy.kind === 'arrange') {
    if (remedy.change.hidden) return 'Show the column'
    if (remedy.change.groups) return remedy.change.groups.length > 0 ? 'Take the level away' : 'Do not group'
    if (remedy.change.summaries && 'key' in finding) {
      const other = remedy.change.summaries[finding.key] as Summary | undefined
      return other ? `Show ${summaryWords[kindOf(other)].toLowerCase()} instead` : 'Show no summary'
    }
    return remedy.change.order ? 'Take it off the order' : 'Lift the condition'
  }
  const { definition } = remedy
  switch (finding.code) {
    case 'field-not-in-data':
      return definition.columns.some(({ key }) => key === finding.nearest)
        ? `Show “${finding.nearest}” instead`
        : 'Remove the column'
    case 'expression-wrong':
      return finding.of === 'column' ? 'Remove the column' : 'Remove the rule'
    case 'detail-column-absent':
    case 'choices-absent':
      return 'Leave it out'
    case 'title-missing':
      return `Call it “${finding.proposed}”`
    case 'title-doubled':
      return `Call it “${definition.columns.find(({ key }) => key === finding.key)?.title}”`
    case 'width-cuts-off':
      return `Make it ${finding.proposed} px wide`
    case 'order-refused':
      return 'Let readers order by it'
    case 'ordered-as-text':
      return 'Order by its values'
    case 'format-hides':
      return `Show ${count(finding.needed, 'decimal', 'decimals')}`
    default:
      return definition.key.length > 0 ? `Use ${list(definition.key)}` : 'Go without a key'
  }
}
