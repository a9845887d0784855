import { conditionSummary, conditionWords } from '@vast-meadow/engine/client'
import type { ArrangementSpeaker, Condition, ConditionWords, Level, Summary } from '@vast-meadow/engine'
import type { GridModel } from './grid-model.ts'
import type { Parts } from './options.ts'
import type { Texts } from './texts.ts'

/** The words for conditions: the grid's, what the host says in their place, and its own conditions, which say themselves. */
export const conditionWordsOf = (texts: Texts, parts: Parts | undefined): ConditionWords => ({
  ...conditionWords,
  ...texts.conditions,
  own: parts?.conditions ?? {},
})

/** What a summary is called. */
export function summaryName(summary: Summary, texts: Texts, parts: Parts | undefined): string {
  if (typeof summary === 'string') return texts.summaryOf(summary)
  if (summary.kind === 'quantile') return texts.quantile(`${Math.round(summary.at * 1000) / 10} %`)
  if (summary.kind === 'expression') return summary.expression
  return parts?.summaries?.[summary.name]?.title ?? summary.name
}

/** A level of groups in words: its column, and what falls into one group. */
export const levelName = ({ column, bucket }: Level, model: GridModel, texts: Texts): string =>
  [model.titleOf(column), texts.bucketNow(bucket)].filter(Boolean).join(' ')

/** How what is arranged is spoken of. */
export function speakerOf(model: GridModel, texts: Texts, parts: Parts | undefined): ArrangementSpeaker {
  const words = conditionWordsOf(texts, parts)
  return {
    titleOf: column => model.titleOf(column),
    condition(column: string, condition: Condition) {
      const field = model.fieldOf(column)
      return field ? conditionSummary(condition, field, model.showOf(column), words) : ''
    },
    level: level => levelName(level, model, texts),
    summary: summary => summaryName(summary, texts, parts),
  }
}
