import { conditionText } from '~/utils/condition-text'
import { gridTexts, sentences } from '~/words'
import {
  arrangementFor,
  differences,
  kindOf,
  type Arrangement,
  type ArrangementChange,
  type Definition,
  type Field,
} from '@vast-meadow/engine'
import { startOf } from './start-of'

/** One thing that readers start with, in words, and the change that takes it out. */
export interface StartSentence {
  readonly text: string
  readonly without: ArrangementChange
}

/** Everything that readers start with, a sentence each; none: the grid as its definition has it. */
export function startSentences(
  definition: Definition,
  arrangement: Arrangement,
  fields: readonly Field[],
): StartSentence[] {
  const plain = arrangementFor({ ...definition, start: {} })
  const start = { ...plain, ...startOf(definition, arrangement) }
  const titleOf = (key: string): string => definition.columns.find(column => column.key === key)?.title || key
  const speaker = {
    titleOf,
    condition(key: string, condition: Arrangement['conditions'][string]) {
      const field = fields.find(one => one.key === key)
      const format = definition.columns.find(one => one.key === key)?.format
      return field ? conditionText(condition, field, format) : ''
    },
    level: ({ column, bucket }: Arrangement['groups'][number]) =>
      [titleOf(column), gridTexts.bucketNow(bucket)].filter(Boolean).join(' '),
    summary: (summary: Arrangement['summaries'][string]) =>
      sentences.summaries[kindOf(summary)].toLowerCase(),
  }
  return differences(plain, start).map(one => ({
    text: `${sentences.difference(one, speaker)}.`,
    without: one.back(start),
  }))
}
