import { conditionPhrase } from '@vast-meadow/engine'
import type { GridModel } from '../control/grid-model.ts'
import type { Texts } from '../texts.ts'
import type { Chip } from './bar-view.ts'

/** A chip for all that is active, also on hidden columns; each can be lifted there. */
export function activeChips(model: GridModel, texts: Texts): Chip[] {
  const { group, conditions } = model.arrangement
  const chips: Chip[] = []
  if (group !== null) {
    const lift = (): void => void model.apply({ group: null }, 'reader')
    chips.push({ before: texts.groupedBy, name: model.titleOf(group), after: '', lift })
  }
  for (const [key, condition] of Object.entries(conditions)) {
    const { [key]: _lifted, ...others } = conditions
    const lift = (): void => void model.apply({ conditions: others }, 'reader')
    chips.push({
      before: '',
      name: model.titleOf(key),
      after: conditionPhrase(condition, model.showOf(key)),
      lift,
    })
  }
  return chips
}
