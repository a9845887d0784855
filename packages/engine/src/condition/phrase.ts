import type { Show } from '../table/shown-text.ts'
import type { Condition } from './condition.ts'
import { kindNamed } from './kinds/index.ts'

/** The condition in a few words, as chips and announcements say it. */
export function conditionPhrase(condition: Condition, show: Show): string {
  const parts = condition.parts.map(part => kindNamed(part.kind).phrase(part, show))
  return parts.join(condition.match === 'any' ? ' or ' : ' and ')
}
