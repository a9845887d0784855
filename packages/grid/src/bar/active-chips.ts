import { conditionSummary, type ConditionWords } from '@vast-meadow/engine'
import type { GridModel } from '../control/grid-model.ts'
import type { Texts } from '../texts.ts'
import type { Chip } from './bar-view.ts'

/** A chip for all that is active, also on hidden columns; each can be lifted there. `open`: shows what a column asks. */
export function activeChips(
  model: GridModel,
  texts: Texts,
  words: ConditionWords,
  open: (column: string) => void,
): Chip[] {
  const { group, conditions, where } = model.arrangement
  const chips: Chip[] = []
  if (group !== null) {
    const lift = (): void => void model.apply({ group: null }, 'reader')
    chips.push({ before: texts.groupedBy, name: model.titleOf(group), after: '', lift })
  }
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
