import { conditionSummary } from '@vast-meadow/engine/client'
import type { ConditionWords } from '@vast-meadow/engine'
import type { GridModel } from '../../kernel/grid-model.ts'
import type { Texts } from '../../kernel/texts.ts'
import type { Chip } from '../../kernel/chips-view.ts'

/** A chip for each condition, also on hidden columns, and for the free expression. `open`: shows what a column asks. */
export function conditionChips(
  model: GridModel,
  texts: Texts,
  words: ConditionWords,
  open: (column: string) => void,
): Chip[] {
  const { conditions, where } = model.arrangement
  const chips: Chip[] = []
  for (const [key, condition] of Object.entries(conditions)) {
    const field = model.fieldOf(key)
    if (!field) continue
    chips.push({
      before: '',
      name: model.titleOf(key),
      after: conditionSummary(condition, field, model.showOf(key), words),
      lift: () => model.setCondition(key, null),
      open: () => open(key),
    })
  }
  if (where.trim()) {
    const lift = (): void => void model.apply({ where: '' }, 'reader')
    chips.push({ before: texts.where, name: where, after: model.whereWrong ? texts.notRead : '', lift })
  }
  return chips
}
