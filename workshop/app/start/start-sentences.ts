import { words } from '~/words/english'
import {
  arrangementFor,
  conditionSummary,
  kindOf,
  shower,
  summaryWords,
  type Arrangement,
  type ArrangementChange,
  type Definition,
  type Field,
} from '@vast-meadow/engine'
import { defaultTexts } from '@vast-meadow/grid'
import { startOf } from './start-of'

/** One thing that readers start with, in words, and the change that takes it out. */
export interface StartSentence {
  readonly part: keyof Arrangement
  readonly text: string
  readonly without: ArrangementChange
}

/** Columns named one by one up to here; beyond, they are counted. */
const NAMED = 4

/** Everything that readers start with, a sentence each; none: the grid as its definition has it. */
export function startSentences(
  definition: Definition,
  arrangement: Arrangement,
  fields: readonly Field[],
): StartSentence[] {
  const start = startOf(definition, arrangement)
  const plain = arrangementFor({ ...definition, start: {} })
  const titleOf = (key: string): string => definition.columns.find(column => column.key === key)?.title || key
  const named = (keys: readonly string[]): string =>
    keys.length <= NAMED ? keys.map(titleOf).join(', ') : `${keys.length} columns`
  const sentences: StartSentence[] = []
  const say = (part: keyof Arrangement, text: string, without?: ArrangementChange): void => {
    if (part in start) sentences.push({ part, text, without: without ?? { [part]: plain[part] } })
  }
  const { hidden = [], pinnedStart = [], pinnedEnd = [], widths = {}, order = [], conditions = {} } = start

  say('columns', words.startSentences.columnsStandInAnOrder)
  say('hidden', `Hidden: ${named(hidden)}.`)
  say('pinnedStart', words.startSentences.pinnedAtTheStart(named(pinnedStart)))
  say('pinnedEnd', words.startSentences.pinnedAtTheEnd(named(pinnedEnd)))
  say('widths', words.startSentences.widthsOfTheirOwn(named(Object.keys(widths))))
  say(
    'order',
    `Ordered by ${order.map(({ column, direction }) => `${titleOf(column)} ${direction}`).join(', then ')}.`,
  )
  for (const [key, condition] of Object.entries(conditions)) {
    const field = fields.find(one => one.key === key)
    const format = definition.columns.find(one => one.key === key)?.format
    const said = field
      ? conditionSummary(condition, field, shower(field, format))
      : words.startSentences.asksSomething
    const { [key]: _lifted, ...others } = conditions
    say('conditions', words.startSentences.onlyRowsWith(titleOf(key), said), { conditions: others })
  }
  say('where', `Only rows for which ${start.where ?? ''} holds.`)
  say('search', `Searched for “${start.search ?? ''}”.`)
  const levels = (start.groups ?? []).map(({ column, bucket }) =>
    [titleOf(column), defaultTexts.bucketNow(bucket)].filter(Boolean).join(' '),
  )
  say('groups', `Grouped by ${levels.join(', then ')}.`)
  if (levels.length > 0) say('open', words.startSentences.groupsAreClosedButFor)
  const summed = Object.entries(start.summaries ?? {}).map(
    ([key, summary]) => `${summaryWords[kindOf(summary)].toLowerCase()} of ${titleOf(key)}`,
  )
  say('summaries', `Summed up: ${summed.join(', ')}.`)
  say('pageSize', `${start.pageSize ?? 0} lines a page.`)
  return sentences
}
