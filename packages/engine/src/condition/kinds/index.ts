import type { ConditionKind } from './kind.ts'
import { contains } from './contains.ts'
import { excludes } from './excludes.ts'
import { oneOf } from './one-of.ts'
import { missing, present } from './presence.ts'
import { range } from './range.ts'
import { starts } from './starts.ts'

/** The kinds' JSON schemas, for the schema of a whole condition. */
export const partSchemas = [
  contains.schema,
  starts.schema,
  excludes.schema,
  oneOf.schema,
  range.schema,
  missing.schema,
  present.schema,
] as const

/**
 * Every kind of condition part, in the order in which editors offer them. Each knows its own part; in the list only
 * that it has one is known, and `kind` tells which.
 */
export const conditionKinds = [
  contains,
  starts,
  excludes,
  range,
  oneOf,
  missing,
  present,
] as unknown as readonly ConditionKind[]

export function kindNamed(name: string): ConditionKind {
  const kind = conditionKinds.find(kind => kind.name === name)
  if (!kind) throw new RangeError(`There is no condition kind "${name}".`)
  return kind
}
