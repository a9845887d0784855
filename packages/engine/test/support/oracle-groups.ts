import type { Bucket } from '../../src/group/bucket.ts'
import type { GroupMeasure } from '../../src/group/level.ts'
import type { Condition } from '../../src/condition/condition.ts'
import type { FlowRequest } from '../../src/flow/request.ts'
import type { GroupKey } from '../../src/flow/line.ts'
import type { Summary } from '../../src/summary/summary.ts'
import type { Value } from '../../src/table/column.ts'
import { plainly } from './plainly.ts'

export type OracleLine =
  | { readonly key: GroupKey; readonly level: number; readonly count: number; readonly foot?: true }
  | { readonly row: number }

/** A group as the plain version makes it: a list of rows and of the groups in it. */
export interface OracleGroup {
  readonly path: readonly GroupKey[]
  readonly rows: readonly number[]
  readonly groups: readonly OracleGroup[]
}

/** What the plain version reads rows by. */
export interface OracleTable {
  value(row: number, column: string): Value
  shown(row: number, column: string): string
  type(column: string): string | undefined
  compare(a: Value, b: Value): number
  /** Whether a value of a type meets a condition. */
  meets(condition: Condition, value: Value, type: string): boolean
}

const REST = { rest: true } as const
const DAY = 864e5
const date = (day: number): Date => new Date(day * DAY)
const dayOf = (year: number, month: number, day: number): number => Date.UTC(year, month, day) / DAY

/** What names the bucket of a value, asked of the language's own dates. */
export function bucketKey(bucket: Bucket, value: Value, shown: string, all: readonly number[]): Value {
  if (value === null) return null
  switch (bucket.by) {
    case 'value':
      return value === 0 ? 0 : value
    case 'shown':
      return shown
    case 'range':
      return bucket.origin + Math.floor((Number(value) - bucket.origin) / bucket.step) * bucket.step + 0
    case 'breaks':
      return bucket.at.findLast(at => at <= Number(value)) ?? '-Infinity'
    case 'parts': {
      const sorted = all.toSorted((a, b) => a - b)
      const ends = Array.from(
        { length: bucket.count },
        (_, i) => sorted[Math.floor((i * sorted.length) / bucket.count)],
      )
      return (ends.findLast(end => end <= Number(value)) ?? NaN) + 0
    }
    case 'letters':
      return [...plainly(shown).trim()].slice(0, bucket.count).join('').toUpperCase()
    case 'date': {
      const on = date(Number(value))
      const [year, month, weekday] = [on.getUTCFullYear(), on.getUTCMonth(), on.getUTCDay() || 7]
      if (bucket.part === 'weekday') return weekday
      if (bucket.every)
        return bucket.part === 'month'
          ? month + 1
          : bucket.part === 'quarter'
            ? Math.floor(month / 3) + 1
            : on.getUTCDate()
      if (bucket.part === 'year') return dayOf(year, 0, 1)
      if (bucket.part === 'quarter') return dayOf(year, month - (month % 3), 1)
      if (bucket.part === 'month') return dayOf(year, month, 1)
      return bucket.part === 'week' ? Number(value) - weekday + 1 : Number(value)
    }
    case 'expression':
      throw new Error('A column of its own is asked for expressions.')
  }
}

/** What rows come to, value by value. */
export function plainSummary(
  summary: Summary,
  rows: readonly number[],
  column: string,
  table: OracleTable,
  { all, parent }: { readonly all: readonly number[]; readonly parent: readonly number[] },
): Value {
  const valuesOf = (some: readonly number[]): NonNullable<Value>[] =>
    some.flatMap(row => table.value(row, column) ?? [])
  const values = valuesOf(rows)
  const numbers = (some: readonly number[]): number[] => valuesOf(some).map(Number)
  const own = numbers(rows)
  const sumOf = (some: readonly number[]): number => numbers(some).reduce((a, b) => a + b, 0)
  const sorted = own.toSorted((a, b) => a - b)
  const at = (part: number): number | null => {
    if (sorted.length === 0) return null
    const exact = (sorted.length - 1) * part
    const below = Math.floor(exact)
    return exact === below
      ? sorted[below]
      : sorted[below] + (sorted[below + 1] - sorted[below]) * (exact - below)
  }
  const least = values.toSorted((a, b) => table.compare(a, b))
  if (typeof summary === 'object') {
    if (summary.kind === 'quantile') return at(summary.at)
    return values.length
  }
  switch (summary) {
    case 'count':
      return rows.length
    case 'present':
      return values.length
    case 'missing':
      return rows.length - values.length
    case 'distinct':
      return new Set(values.map(value => (value === 0 ? 0 : value))).size
    case 'sum':
      return own.length ? sumOf(rows) : null
    case 'mean':
      return own.length ? sumOf(rows) / own.length : null
    case 'minimum':
      return least[0] ?? null
    case 'maximum':
      return least.at(-1) ?? null
    case 'range':
      return sorted.length ? sorted.at(-1)! - sorted[0] : null
    case 'median':
      return at(0.5)
    case 'deviation': {
      const mean = sumOf(rows) / own.length
      return own.length < 2
        ? null
        : Math.sqrt(own.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (own.length - 1))
    }
    case 'first':
      return values[0] ?? null
    case 'last':
      return values.at(-1) ?? null
    case 'frequent': {
      const count = (value: Value): number => values.filter(other => table.compare(other, value) === 0).length
      return least.toSorted((a, b) => count(b) - count(a))[0] ?? null
    }
    case 'same':
      return values.length === rows.length && values.every(value => table.compare(value, values[0]) === 0)
        ? values[0]
        : null
    case 'share':
      return own.length && sumOf(all) !== 0 ? sumOf(rows) / sumOf(all) : null
    case 'share-of-parent':
      return own.length && sumOf(parent) !== 0 ? sumOf(rows) / sumOf(parent) : null
  }
}

const isRest = (key: GroupKey): boolean => typeof key === 'object' && key !== null

/** The groups of rows in their order, made without any of the engine's ways. */
export function plainGroups(
  ordered: readonly number[],
  request: FlowRequest,
  table: OracleTable,
  everyRow: readonly number[],
): { readonly groups: readonly OracleGroup[]; readonly rows: readonly number[] } {
  const levels = request.groups.filter(({ column }) => table.type(column) !== undefined)
  const keys = levels.map(({ column, bucket }) => {
    const type = table.type(column) ?? ''
    const fits =
      ['value', 'shown'].includes(bucket.by) ||
      (bucket.by === 'letters'
        ? type === 'text'
        : bucket.by === 'date'
          ? type === 'date'
          : ['integer', 'number'].includes(type))
    const all = everyRow.flatMap(row =>
      typeof table.value(row, column) === 'number' ? Number(table.value(row, column)) : [],
    )
    return new Map(
      ordered.map((row): [number, GroupKey] => [
        row,
        bucketKey(fits ? bucket : { by: 'value' }, table.value(row, column), table.shown(row, column), all),
      ]),
    )
  })
  let rows = ordered
  const pathOf = (row: number, depth: number): GroupKey[] =>
    keys.slice(0, depth).map(of => of.get(row) ?? null)
  const nodesAt = (depth: number, among: readonly number[]): number[][] => {
    const nodes = new Map<string, number[]>()
    for (const row of among) {
      const name = JSON.stringify(pathOf(row, depth))
      nodes.set(name, [...(nodes.get(name) ?? []), row])
    }
    return [...nodes.values()]
  }
  const measured = (of: GroupMeasure, node: readonly number[]): Value =>
    of === 'size'
      ? node.length
      : plainSummary(of.summary, node, of.column, table, { all: rows, parent: rows })
  const typeOf = (of: GroupMeasure): string =>
    of === 'size' || ['count', 'present', 'missing', 'distinct'].includes(String(of.summary))
      ? 'integer'
      : (table.type(of.column) ?? '')
  const isThere = (of: GroupMeasure): boolean => of === 'size' || table.type(of.column) !== undefined
  const compareMeasures =
    (of: GroupMeasure, down: boolean) =>
    (a: readonly number[], b: readonly number[]): number => {
      const [x, y] = [measured(of, a), measured(of, b)]
      if (x === null || y === null) return Number(x === null) - Number(y === null)
      return down ? table.compare(y, x) : table.compare(x, y)
    }
  const keyCompare =
    (level: number) =>
    (a: GroupKey, b: GroupKey): number => {
      const rank = (key: GroupKey): number => (isRest(key) ? 2 : key === null ? 1 : 0)
      if (rank(a) + rank(b) > 0) return rank(a) - rank(b)
      const { bucket } = levels[level]
      if (bucket.by === 'breaks')
        return (a === '-Infinity' ? -1e9 : Number(a)) - (b === '-Infinity' ? -1e9 : Number(b))
      return table.compare(a as Value, b as Value)
    }
  for (let level = levels.length - 1; level >= 0; level--) {
    const { keep } = levels[level]
    if (!keep) continue
    for (const { of, condition } of keep.where) {
      if (!isThere(of)) continue
      rows = nodesAt(level + 1, rows)
        .filter(node => table.meets(condition, measured(of, node), typeOf(of)))
        .flat()
        .sort((a, b) => ordered.indexOf(a) - ordered.indexOf(b))
    }
    const { most } = keep
    if (!most || !isThere(most.of)) continue
    const gone = new Set<number>()
    for (const parent of nodesAt(level, rows)) {
      const nodes = nodesAt(level + 1, parent).sort((a, b) =>
        keyCompare(level)(keys[level].get(a[0]) ?? null, keys[level].get(b[0]) ?? null),
      )
      const others = nodes.sort(compareMeasures(most.of, most.direction === 'descending')).slice(most.count)
      for (const row of others.flat())
        if (most.rest === 'out') gone.add(row)
        else keys[level].set(row, REST)
    }
    rows = rows.filter(row => !gone.has(row))
  }
  const make = (among: readonly number[], depth: number, path: readonly GroupKey[]): OracleGroup[] => {
    if (depth === levels.length) return []
    const { order } = levels[depth]
    const down = order.direction === 'descending'
    const compareNodes = (a: number[], b: number[]): number => {
      const [x, y] = [keys[depth].get(a[0]) ?? null, keys[depth].get(b[0]) ?? null]
      const natural = keyCompare(depth)(x, y)
      if (isRest(x) || isRest(y)) return natural
      const { by } = order
      if (typeof by === 'object' && !isThere(by)) return natural
      if (x === null || y === null) {
        const missing = Number(x === null) - Number(y === null)
        return order.missing === 'first' ? -missing : missing
      }
      if (by === 'key') return down ? -natural : natural
      if (by === 'shown') return natural
      return compareMeasures(by, down)(a, b) || natural
    }
    const nodes = nodesAt(depth + 1, among).sort(compareNodes)
    return nodes.map(node => {
      const here = [...path, keys[depth].get(node[0]) ?? null]
      return { path: here, rows: node, groups: make(node, depth + 1, here) }
    })
  }
  return { groups: make(rows, 0, []), rows }
}

/** The lines of groups, with what is closed left out. */
export function linesOfGroups(
  groups: readonly OracleGroup[],
  { open, groups: levels }: FlowRequest,
  level = 0,
): OracleLine[] {
  const except = new Set(open.except.map(path => JSON.stringify(path)))
  return groups.flatMap(({ path, rows, groups: inside }): OracleLine[] => {
    const line = { key: path.at(-1) ?? null, level, count: rows.length }
    const isOpen = (open.levels === null || level < open.levels) !== except.has(JSON.stringify(path))
    if (!isOpen) return [line]
    const within =
      inside.length > 0
        ? linesOfGroups(inside, { open, groups: levels } as FlowRequest, level + 1)
        : rows.map(row => ({ row }))
    return [line, ...within, ...(levels[level].feet ? [{ ...line, foot: true as const }] : [])]
  })
}
