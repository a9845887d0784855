import { EditableTable, type CellValues } from '../edit/editable-table.ts'
import { ComputedColumns } from '../edit/computed-columns.ts'
import { pickRows } from '../edit/gather-rows.ts'
import { bindColumns, type ParsedColumns } from '../expression/expressions.ts'
import { placesOf } from '../expression/typed.ts'
import type { PlainValue } from './plain-value.ts'
import { hasBit, type Bits } from '../table/bits.ts'
import { valueAt, type Column, type Table, type Value } from '../table/column.ts'
import { tagsOf } from '../table/shown-text.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { CheckProblem } from './check-problem.ts'
import type { AmongRule, CheckRule, RowRules } from './row-rules.ts'

/** A row as it is to be: one that is there with other values in some cells, or a new one. */
export interface RowToCheck {
  /** Its number in the table; null: it is new. */
  readonly row: number | null
  readonly values: Readonly<Record<string, Value>>
  /** The same as documents hold them; of new rows. */
  readonly plain: Readonly<Record<string, PlainValue>>
}

/** What is wrong with a row; `field` null: with the row as a whole. */
export interface RowProblem {
  readonly nth: number
  readonly field: string | null
  readonly problem: CheckProblem
}

/**
 * Checks rows against one another and all others. `without`: rows that are there and do not count; `saved`: the same rows
 * without what is pending in them, which is no choice for others, nor for the row itself.
 */
export function* checkRows(
  table: Table,
  absent: Bits | null,
  rows: readonly RowToCheck[],
  rules: RowRules,
  parsed: ParsedColumns,
  without: readonly number[],
  saved: Table = table,
): Work<RowProblem[]> {
  const problems: RowProblem[] = yield* broken(table, rows, rules.rules, parsed)
  const skipped = new Set([...rows.flatMap(({ row }) => row ?? []), ...without])
  for (const field of rules.unique) problems.push(...(yield* doubled(table, absent, rows, field, skipped)))
  for (const rule of rules.amongValuesOf) problems.push(...(yield* strangers(saved, absent, rows, rule)))
  return problems.sort((a, b) => a.nth - b.nth)
}

/** Expressions that ask themselves whether something is missing. */
const ASKS_FOR_NOTHING = /\bhas\s*\(/

/** Where expressions do not hold. */
function* broken(
  table: Table,
  rows: readonly RowToCheck[],
  rules: readonly CheckRule[],
  parsed: ParsedColumns,
): Work<RowProblem[]> {
  if (rules.length === 0) return []
  const { made, order } = yield* asToBe(table, rows)
  const computed = new ComputedColumns()
  yield* computed.make(parsed, made, false)
  const whole = computed.behind(made)
  const problems: RowProblem[] = []
  const { bound } = bindColumns(parsed, made.fields)
  for (const rule of rules) {
    // A comparison with nothing is false, which is nothing against the row: that values are missing is another check's.
    const asksForNothing = ASKS_FOR_NOTHING.test(rule.expression)
    const typed = bound.find(({ column }) => column.key === rule.key)?.typed
    const read = typed && !asksForNothing ? [...placesOf(typed)] : []
    const wrong = computed.problems.find(({ key }) => key === rule.key)
    const place = whole.fields.findIndex(({ key }) => key === rule.key)
    for (let at = 0; at < rows.length; at++) {
      const nth = order[at]
      const own = rule.fields.length === 1 ? whole.fields.findIndex(({ key }) => key === rule.fields[0]) : -1
      if (rule.onlyPresent && own >= 0 && valueAt(whole.columns[own], at) === null) continue
      if (place >= 0 && valueAt(whole.columns[place], at) === true) continue
      if (place >= 0 && read.some(one => valueAt(whole.columns[one], at) === null)) continue
      const problem: CheckProblem =
        place < 0 ? { code: 'check-failed', reason: wrong?.problem.code ?? 'no-such-result' } : rule.problem
      const fields: readonly (string | null)[] = rule.fields.length > 0 ? rule.fields : [null]
      for (const field of fields) problems.push({ nth, field, problem })
    }
    yield
  }
  return problems
}

/** The rows as they are to be, as a table of their own: those that are there first. `order`: which row each is. */
function* asToBe(table: Table, rows: readonly RowToCheck[]): Work<{ made: Table; order: readonly number[] }> {
  const there = rows.flatMap(({ row }, nth) => (row === null ? [] : [{ row, nth }]))
  const added = rows.flatMap(({ row }, nth) => (row === null ? [nth] : []))
  const some = new EditableTable(
    pickRows(
      table,
      Uint32Array.from(there, ({ row }) => row),
    ),
  )
  const places = new Map(table.fields.map(({ key }, place) => [key, place]))
  const cells = new Map<number, Map<number, Value>>()
  for (const [at, { nth }] of there.entries()) {
    for (const [key, value] of Object.entries(rows[nth].values)) {
      const place = places.get(key)
      if (place === undefined) continue
      const column = cells.get(place) ?? new Map<number, Value>()
      cells.set(place, column.set(at, value))
    }
  }
  yield* some.setCells(cells satisfies CellValues)
  if (added.length > 0) yield* some.commit({ append: added.map(nth => rows[nth].plain) }, [])
  return { made: some.table, order: [...there.map(({ nth }) => nth), ...added] }
}

/** Rows whose value in a field another row has too. */
function* doubled(
  table: Table,
  absent: Bits | null,
  rows: readonly RowToCheck[],
  field: string,
  skipped: ReadonlySet<number>,
): Work<RowProblem[]> {
  const asked = new Map<Value, number[]>()
  for (const [nth, { values }] of rows.entries()) {
    const value = Object.hasOwn(values, field) ? values[field] : null
    if (value === null || value === '') continue
    const same = asked.get(value)
    if (same) same.push(nth)
    else asked.set(value, [nth])
  }
  if (asked.size === 0) return []
  const twice = yield* valuesThere(table, absent, field, asked, skipped)
  for (const [value, nths] of asked) if (nths.length > 1) twice.add(value)
  return [...twice].flatMap(value =>
    (asked.get(value) ?? []).map(nth => ({ nth, field, problem: { code: 'not-unique' as const } })),
  )
}

/** A value that some rows are to have, and what a row that has it must be like. */
interface Sought {
  readonly likes: readonly (readonly [Column, Value])[]
  readonly nths: Set<number>
}

/** Rows whose value in a field, of tags one of them, no row that is like it has in another one. */
function* strangers(
  table: Table,
  absent: Bits | null,
  rows: readonly RowToCheck[],
  { field, of, like, problem }: AmongRule,
): Work<RowProblem[]> {
  const columnOf = (key: string): Column | undefined =>
    table.columns[table.fields.findIndex(one => one.key === key)]
  const isTags = (key: string): boolean => table.fields.find(one => one.key === key)?.type === 'tags'
  const itemsIn = (key: string, value: Value): readonly Value[] => {
    if (value === null || value === '') return []
    return isTags(key) ? tagsOf(String(value)) : [value]
  }
  const sought = new Map<Value, Map<string, Sought>>()
  for (const [nth, row] of rows.entries()) {
    if (![field, ...like].some(key => Object.hasOwn(row.values, key))) continue
    const likes = like.flatMap(key => {
      const column = columnOf(key)
      const value = valueToBe(table, row, key)
      // Rows that have some of the same tags are not like one another.
      const counts = value !== null && value !== '' && !isTags(key)
      return column && counts ? [[column, value] as const] : []
    })
    const name = JSON.stringify(likes.map(([, value]) => value))
    for (const item of itemsIn(field, valueToBe(table, row, field))) {
      const ways = sought.get(item) ?? new Map<string, Sought>()
      sought.set(item, ways)
      const way = ways.get(name) ?? { likes, nths: new Set() }
      ways.set(name, way)
      way.nths.add(nth)
    }
  }
  const column = columnOf(of)
  for (let row = 0; column && row < table.rows && sought.size > 0; row++) {
    if (row % SLICE_OF_VALUES === SLICE_OF_VALUES - 1) yield
    if (absent && hasBit(absent, row)) continue
    for (const item of itemsIn(of, valueAt(column, row))) {
      const ways = sought.get(item)
      if (!ways) continue
      for (const [name, { likes }] of ways)
        if (likes.every(([other, value]) => valueAt(other, row) === value)) ways.delete(name)
      if (ways.size === 0) sought.delete(item)
    }
  }
  const wrong = new Set(
    [...sought.values()].flatMap(ways => [...ways.values()].flatMap(({ nths }) => [...nths])),
  )
  return [...wrong].map(nth => ({ nth, field, problem }))
}

/** What a row is to have in a field. */
function valueToBe(table: Table, { row, values }: RowToCheck, key: string): Value {
  if (Object.hasOwn(values, key)) return values[key]
  const place = table.fields.findIndex(field => field.key === key)
  return row === null || place < 0 ? null : valueAt(table.columns[place], row)
}

/** Those of some values that a column has, in rows that count. */
function* valuesThere(
  table: Table,
  absent: Bits | null,
  field: string,
  asked: { has(value: Value): boolean; readonly size: number },
  skipped: ReadonlySet<number>,
): Work<Set<Value>> {
  const found = new Set<Value>()
  const place = table.fields.findIndex(({ key }) => key === field)
  if (place < 0) return found
  const column = table.columns[place]
  for (let row = 0; row < table.rows && found.size < asked.size; row++) {
    const value = valueAt(column, row)
    if (asked.has(value) && !skipped.has(row) && !(absent && hasBit(absent, row))) found.add(value)
    if (row % SLICE_OF_VALUES === SLICE_OF_VALUES - 1) yield
  }
  return found
}

/** Reading a text costs about a hundred nanoseconds. */
const SLICE_OF_VALUES = SLICE >>> 2
