import type { GroupMeasure, Summary } from '@vast-meadow/engine'
import type { GridModel } from '../../kernel/grid-model.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** What a summary is called. */
export function summaryName(summary: Summary, { texts, options }: Pick<Kernel, 'texts' | 'options'>): string {
  if (typeof summary === 'string') return texts.summaryOf(summary)
  if (summary.kind === 'quantile') return texts.quantile(`${Math.round(summary.at * 1000) / 10} %`)
  if (summary.kind === 'expression') return summary.expression
  return options.parts?.summaries?.[summary.name]?.title ?? summary.name
}

/** What a measure of groups is called. */
export function measureName(
  measure: GroupMeasure,
  kernel: Pick<Kernel, 'texts' | 'options' | 'model'>,
): string {
  if (measure === 'size') return kernel.texts.groupOrderSize
  return kernel.texts.summaryIn(summaryName(measure.summary, kernel), kernel.model.titleOf(measure.column))
}

/** The measures that groups can be ordered and kept by: their size, and what is summed up. */
export function measuresOf(model: GridModel, also: readonly (GroupMeasure | undefined)[]): GroupMeasure[] {
  const arranged = Object.entries(model.arrangement.summaries).map(([column, summary]) => ({
    column,
    summary,
  }))
  const all: GroupMeasure[] = ['size', ...arranged, ...also.filter(measure => measure !== undefined)]
  return [...new Map(all.map(measure => [JSON.stringify(measure), measure])).values()]
}
