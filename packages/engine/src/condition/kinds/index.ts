import { above, atLeast, atMost, below, range } from './bounds.ts'
import { differs, equals } from './equal.ts'
import type { ConditionKind } from './kind.ts'
import { allOf, noneOf, oneOf } from './lists.ts'
import { own } from './own.ts'
import { missing, present } from './presence.ts'
import { relative } from './relative.ts'
import { contains, ends, excludes, pattern, starts } from './text.ts'

/** The kinds' JSON schemas, for the schema of a whole condition. */
export const partSchemas = [
  contains.schema,
  excludes.schema,
  starts.schema,
  ends.schema,
  pattern.schema,
  range.schema,
  above.schema,
  atLeast.schema,
  below.schema,
  atMost.schema,
  relative.schema,
  equals.schema,
  differs.schema,
  oneOf.schema,
  noneOf.schema,
  allOf.schema,
  missing.schema,
  present.schema,
  own.schema,
] as const

/**
 * Every kind of condition part, in the order in which editors offer them. Each knows its own part; in the list only
 * that it has one is known, and `kind` tells which.
 */
export const conditionKinds = [
  contains,
  excludes,
  starts,
  ends,
  pattern,
  range,
  above,
  atLeast,
  below,
  atMost,
  relative,
  equals,
  differs,
  oneOf,
  noneOf,
  allOf,
  missing,
  present,
  own,
] as unknown as readonly ConditionKind[]

export function kindNamed(name: string): ConditionKind {
  const kind = conditionKinds.find(kind => kind.name === name)
  if (!kind) throw new RangeError(`There is no condition kind "${name}".`)
  return kind
}
