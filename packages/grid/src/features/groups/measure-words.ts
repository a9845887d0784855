import type { GroupMeasure } from '@vast-meadow/engine'
import { summaryName } from '../../kernel/arrangement-speaker.ts'
import type { GridModel } from '../../kernel/grid-model.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** What a measure of groups is called. */
export function measureName(
  measure: GroupMeasure,
  kernel: Pick<Kernel, 'texts' | 'options' | 'model'>,
): string {
  const { texts, model, options } = kernel
  if (measure === 'size') return texts.groupOrderSize
  return texts.summaryIn(summaryName(measure.summary, texts, options.parts), model.titleOf(measure.column))
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
