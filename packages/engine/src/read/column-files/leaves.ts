import { MAX_DEPTH } from '../columns/nesting.ts'
import { ValueColumn } from '../columns/value-column.ts'
import type { LogicalType, Member } from './logical-type.ts'
import type { Words } from './column-file.ts'
import { adderOf, type AddRaw } from './add-raw.ts'

/** A column that is made of a field, or of a member within it. */
export interface Leaf {
  /** Names of all levels, joined by points; unique. */
  readonly key: string
  readonly type: LogicalType
  /** By level, the place of the member. */
  readonly path: readonly number[]
  readonly values: ValueColumn
  /** Adds a raw value of the leaf. */
  readonly add: AddRaw
  /** By dictionary, the rows that had each of its words first. */
  readonly firsts: WeakMap<Words['at'], Int32Array>
}

/** The columns of each field: structures become one for each member. Names that come again get a number. */
export function leavesOf(fields: readonly Member[]): Leaf[][] {
  const used = new Set<string>()
  return fields.map(({ name, type }, place) => {
    const leaves: Leaf[] = []
    addLeaves(name || `column ${place + 1}`, type, [], used, leaves)
    return leaves
  })
}

function addLeaves(
  name: string,
  type: LogicalType,
  path: readonly number[],
  used: Set<string>,
  into: Leaf[],
): void {
  if (type.kind === 'struct' && type.members.length > 0 && path.length < MAX_DEPTH) {
    type.members.forEach((member, place) =>
      addLeaves(`${name}.${member.name || place + 1}`, member.type, [...path, place], used, into),
    )
    return
  }
  let key = name
  for (let n = 2; used.has(key); n++) key = `${name} ${n}`
  used.add(key)
  into.push({ key, type, path, values: new ValueColumn(), add: adderOf(type), firsts: new WeakMap() })
}

/** What a member has, of the raw value of its field. */
export function memberOf(raw: unknown, path: readonly number[]): unknown {
  let value = raw
  for (const place of path) {
    if (value === null || value === undefined) return null
    value = (value as readonly unknown[])[place]
  }
  return value
}
