import { onlyLines, type Abilities, type Refusal } from '../question/abilities.ts'
import type { ListingOptions } from './listing-options.ts'

/** What a service that lists rows has parameters for. */
export function listingAbilities(
  { order, search, conditions = {} }: ListingOptions,
  why: Refusal,
  questions: readonly string[],
): Abilities {
  const kinds = Object.values(conditions).flatMap(known =>
    Object.keys(known).flatMap(kind =>
      kind === 'from' || kind === 'to' ? ['range', 'at-least', 'at-most'] : [kind],
    ),
  )
  return {
    ...onlyLines(why, questions),
    order: { others: why, kinds: { value: order ? true : why } },
    conditions: { others: why, kinds: Object.fromEntries(kinds.map(kind => [kind, true])) },
    search: search === undefined ? why : true,
  }
}
