import type { RowObject } from '../read/rows/read-rows.ts'
import type { Work } from '../work/work.ts'
import type { ChangeSet } from './change-set.ts'

/** Beyond this share of changed rows it is quicker to read all of them anew. */
const MOST_CHANGED = 1 / 4
const BATCH = 4096

/**
 * What changed between two lists of rows, as changes by key; null where that cannot be said so: rows stand in another
 * order, new ones stand among the old, a row has no key, or most changed. Rows that are the same object, or whose
 * fields hold the same, are taken as unchanged: the comparison costs no more than looking at them.
 */
export function* diffRows(
  before: readonly RowObject[],
  after: readonly RowObject[],
  keyFields: readonly string[],
): Work<ChangeSet | null> {
  if (keyFields.length === 0) return null
  const put: RowObject[] = []
  const remove: (string | number)[][] = []
  const most = Math.max(16, before.length * MOST_CHANGED)
  let at = 0
  for (let i = 0; i < before.length; i++) {
    const [old, now] = [before[i], after[at]]
    if (old === now || (now !== undefined && sameFields(old, now))) at++
    else {
      const oldKey = keyOf(old, keyFields)
      if (oldKey === null) return null
      if (now !== undefined && sameKey(oldKey, keyOf(now, keyFields))) {
        put.push(now)
        at++
      } else remove.push(oldKey)
    }
    if (put.length + remove.length > most) return null
    if (i % BATCH === BATCH - 1) yield
  }
  const removed = new Set(remove.map(key => JSON.stringify(key)))
  for (; at < after.length; at++) {
    const key = keyOf(after[at], keyFields)
    // A row that left its place for the end was moved; the order of rows is then another.
    if (key === null || removed.has(JSON.stringify(key))) return null
    put.push(after[at])
    if (put.length + remove.length > most) return null
  }
  return { put, remove: remove.map(key => (key.length === 1 ? key[0] : key)) }
}

function sameFields(a: RowObject, b: RowObject): boolean {
  let fields = 0
  for (const key in a) {
    if (!sameValue(a[key], b[key])) return false
    fields++
  }
  for (const _ in b) fields--
  return fields === 0
}

/** Whether values hold the same: dates and what lies deeper by what they say. */
function sameValue(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (a instanceof Date || b instanceof Date)
    return a instanceof Date && b instanceof Date && a.getTime() === b.getTime()
  if (Array.isArray(a) !== Array.isArray(b)) return false
  return sameFields(Object.fromEntries(Object.entries(a)), Object.fromEntries(Object.entries(b)))
}

/** Whether two lists hold the same rows in the same order, for rows that no key names. */
export function* sameRows(before: readonly RowObject[], after: readonly RowObject[]): Work<boolean> {
  if (before.length !== after.length) return false
  for (let i = 0; i < before.length; i++) {
    if (before[i] !== after[i] && !sameFields(before[i], after[i])) return false
    if (i % BATCH === BATCH - 1) yield
  }
  return true
}

/** The key of a row object; null where a part is missing or lies deeper than its fields. */
function keyOf(row: RowObject, keyFields: readonly string[]): (string | number)[] | null {
  const parts: (string | number)[] = []
  for (const field of keyFields) {
    const part = row[field]
    if (typeof part !== 'string' && typeof part !== 'number') return null
    parts.push(part)
  }
  return parts
}

const sameKey = (a: readonly unknown[], b: readonly unknown[] | null): boolean =>
  b !== null && a.every((part, i) => part === b[i])
