import { propertyOf, type ServedTable } from './served-table.ts'

/** What of a table may be changed. What is not named may not. */
export interface Changes {
  /** Properties that may be changed in rows that are there; true: all but those of the key. */
  readonly update?: true | readonly string[]
  readonly insert?: boolean
  readonly remove?: boolean
}

/** Whether a property may be changed in rows that are there. What names a row stays. */
export const isChangeable = (table: ServedTable, { update }: Changes, name: string): boolean =>
  !table.key.includes(name) &&
  propertyOf(table, name)?.told !== true &&
  (update === true || (update?.includes(name) ?? false))

/** Whether anything may be changed in rows that are there. */
export const offersUpdates = ({ update }: Changes): boolean => update === true || (update?.length ?? 0) > 0

/** What both allow. */
export function narrowChanges(offered: Changes, allowed: Changes | undefined): Changes {
  if (!allowed) return offered
  return {
    update: bothUpdates(offered.update ?? [], allowed.update ?? []),
    insert: offered.insert === true && allowed.insert === true,
    remove: offered.remove === true && allowed.remove === true,
  }
}

function bothUpdates(
  one: true | readonly string[],
  other: true | readonly string[],
): true | readonly string[] {
  if (one === true) return other
  return other === true ? one : one.filter(name => other.includes(name))
}
