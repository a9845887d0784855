import { arrangementFor, type Arrangement, type Definition } from '@vast-meadow/engine'
import { isOneOf, keysIn, sameJson } from '@vast-meadow/engine/client'

/** What is not part of a start: the page one happens to look at, and a search that is only tried. */
const TRIED = ['page', 'search'] as const

/**
 * What readers start with, from what is arranged in Build: only what differs from a grid of which nothing was arranged. A
 * search is part of it only where the definition's own start has one.
 */
export function startOf(definition: Definition, arrangement: Arrangement): Partial<Arrangement> {
  const plain = arrangementFor({ ...definition, start: {} })
  const differs = (key: keyof Arrangement): boolean => !sameJson(plain[key], arrangement[key])
  const kept = keysIn(plain).filter(key => !isOneOf<keyof Arrangement>(TRIED, key) && differs(key))
  const start: Partial<Arrangement> = Object.fromEntries(kept.map(key => [key, arrangement[key]]))
  const { search = '' } = definition.start
  return search.trim() ? { ...start, search } : start
}

/** The definition as it ships: Build is its start. */
export const shipped = (definition: Definition, arrangement: Arrangement): Definition => ({
  ...definition,
  start: startOf(definition, arrangement),
})

/** Whether a reader arranged anything otherwise than it starts; the page looked at is nothing arranged. */
export function differsFromStart(start: Definition, arrangement: Arrangement): boolean {
  const begun = arrangementFor(start)
  return !sameJson({ ...begun, page: 0 }, { ...arrangement, page: 0 })
}
