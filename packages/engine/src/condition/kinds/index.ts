import { above, atLeast, atMost, below, range } from './bounds.ts'
import { differs, equals } from './equal.ts'
import type { ConditionKind } from './kind.ts'
import { allOf, noneOf, oneOf } from './lists.ts'
import { own } from './own.ts'
import { missing, present } from './presence.ts'
import { relative } from './relative.ts'
import { contains, ends, excludes, pattern, starts } from './text.ts'

/** Every kind of condition part, in the order in which editors offer them. */
const kinds = [
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
] as const

type Kinds = typeof kinds
export type ConditionKindName = Kinds[number]['name']

/** All kinds. Each knows its own part; in the list only that it has one is known, and `kind` tells which. */
export const conditionKinds: readonly ConditionKind<ConditionKindName>[] = kinds

type SchemasOf<List extends readonly ConditionKind[]> = { readonly [At in keyof List]: List[At]['schema'] }

/** The kinds' JSON schemas, for the schema of a whole condition. */
export const partSchemas = kinds.map(({ schema }) => schema) as unknown as SchemasOf<Kinds>

export function kindNamed(name: string): ConditionKind {
  const kind = conditionKinds.find(kind => kind.name === name)
  if (!kind) throw new RangeError(`There is no condition kind "${name}".`)
  return kind
}
