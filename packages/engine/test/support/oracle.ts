import type { FlowOrderKey, FlowRequest } from '../../src/flow/request.ts'
import { idOfRow, rowsIn } from '../../src/table/row-id.ts'
import type { Table, Value } from '../../src/table/column.ts'
import { valueAt } from '../../src/table/column.ts'
import { shower, tagsOf } from '../../src/table/shown-text.ts'
import {
  linesOfGroups,
  plainGroups,
  type OracleGroup,
  type OracleLine,
  type OracleTable,
} from './oracle-groups.ts'
import type { Condition, ConditionPart } from '../../src/condition/condition.ts'
import { plainly } from './plainly.ts'

export type { OracleLine } from './oracle-groups.ts'

const strip = plainly

const stripAccents = (text: string, exact?: boolean): string =>
  exact ? text : text.normalize('NFD').replace(/\p{M}/gu, '')

const DAY = 864e5
const dayOf = (date: Date): number => Math.floor(date.getTime() / DAY)

/** The first and last day that a text says, asked of the language's own dates. */
function spanOf(text: string, type: string): [number, number] {
  if (type !== 'date') return [Number(text), Number(text)]
  const quarter = /^(\d{4})-Q(\d)$/.exec(text)
  if (quarter) {
    const [year, nth] = [Number(quarter[1]), Number(quarter[2])]
    return [dayOf(new Date(Date.UTC(year, nth * 3 - 3, 1))), dayOf(new Date(Date.UTC(year, nth * 3, 0)))]
  }
  const [year, month, day] = text.split('-').map(Number)
  if (day)
    return [dayOf(new Date(Date.UTC(year, month - 1, day))), dayOf(new Date(Date.UTC(year, month - 1, day)))]
  if (month) return [dayOf(new Date(Date.UTC(year, month - 1, 1))), dayOf(new Date(Date.UTC(year, month, 0)))]
  return [dayOf(new Date(Date.UTC(year, 0, 1))), dayOf(new Date(Date.UTC(year, 11, 31)))]
}

/** Goes day by day from today and counts how often the unit changes on the way. */
function relativeDays(
  { which, unit, count }: Extract<ConditionPart, { kind: 'relative' }>,
  now: number,
): [number, number] {
  const today = Math.floor(now / DAY)
  const name = (day: number): string => {
    const date = new Date(day * DAY)
    if (unit === 'day') return String(day)
    if (unit === 'week') return String(Math.floor((day + 3) / 7))
    const [year, month] = [date.getUTCFullYear(), date.getUTCMonth()]
    return unit === 'year'
      ? `${year}`
      : unit === 'month'
        ? `${year} ${month}`
        : `${year} ${Math.floor(month / 3)}`
  }
  const [least, most] =
    which === 'this'
      ? [0, 0]
      : which === 'last'
        ? count
          ? [1 - count, 0]
          : [-1, -1]
        : count
          ? [0, count - 1]
          : [1, 1]
  const wanted: number[] = []
  for (const step of [-1, 1]) {
    let units = 0
    for (let day = today; ; day += step) {
      if (units >= least && units <= most) wanted.push(day)
      if (name(day + step) !== name(day)) units += step
      if (units < Math.min(least, 0) || units > Math.max(most, 0)) break
    }
  }
  return [Math.min(...wanted), Math.max(...wanted)]
}

/** What the flow must come to, worked out row by row without any of its ways. */
export function oracle(
  table: Table,
  request: FlowRequest,
): {
  lines: OracleLine[]
  passing: number
  groups: readonly OracleGroup[]
  rows: readonly number[]
  table: OracleTable
} {
  const place = (key: string): number => table.fields.findIndex(field => field.key === key)
  const value = (row: number, key: string): Value =>
    place(key) < 0 ? null : valueAt(table.columns[place(key)], row)
  const shown = (row: number, key: string): string =>
    place(key) < 0 ? '' : shower(table.fields[place(key)])(value(row, key))

  const among = request.among && new Set(rowsIn({ kind: 'set', ...request.among.rows }))
  const wanted = (row: number): boolean => !among || among.has(idOfRow(table, row))

  const words = [...request.search.matchAll(/"([^"]*)"|(\S+)/g)].map(([, quoted, bare]) =>
    strip(quoted ?? bare),
  )
  const found = (row: number): boolean =>
    words.every(word =>
      request.searchColumns.some(key => strip(shown(row, key)).replaceAll('\n', ' ').includes(word)),
    )

  const holds = (part: ConditionPart, v: Value, type: string): boolean => {
    if (part.kind === 'missing') return v === null
    if (v === null) return false
    const isNumeric = ['integer', 'number', 'date'].includes(type)
    const exact = 'exact' in part && part.exact
    const same = (a: string): string => (exact ? a : strip(a))
    const text = type === 'text' ? same(v as string) : ''
    // Numbers stand for themselves; texts of days for their days.
    const [from, to] = [0, 1].map(
      end => (amount: string | number | boolean) =>
        typeof amount === 'number' ? amount : spanOf(String(amount), type)[end],
    )
    const isValue = (wanted: string | number | boolean): boolean => {
      if (type === 'text') return same(String(wanted)) === text
      if (type === 'boolean') return wanted === v
      if (type === 'tags')
        return tagsOf(v as string)
          .map(same)
          .includes(same(String(wanted)))
      return (v as number) >= from(wanted) && (v as number) <= to(wanted)
    }
    const number = v as number
    switch (part.kind) {
      case 'present':
        return true
      case 'one-of':
        return part.values.some(isValue)
      case 'none-of':
        return !part.values.some(isValue)
      case 'all-of':
        return type === 'tags' && part.values.every(isValue)
      case 'equals':
        return type !== 'tags' && isValue(part.value)
      case 'differs':
        return type !== 'tags' && !isValue(part.value)
      case 'contains':
        return type === 'text' && text.includes(same(part.text))
      case 'starts':
        return type === 'text' && text.startsWith(same(part.text))
      case 'ends':
        return type === 'text' && text.endsWith(same(part.text))
      case 'excludes':
        return type === 'text' && !text.includes(same(part.text))
      case 'pattern':
        return type === 'text' && new RegExp(stripAccents(part.pattern, exact), exact ? '' : 'i').test(text)
      case 'range':
        return (
          isNumeric &&
          number >= (part.from === undefined ? -Infinity : from(part.from)) &&
          number <= (part.to === undefined ? Infinity : to(part.to))
        )
      case 'above':
        return isNumeric && number > to(part.value)
      case 'at-least':
        return isNumeric && number >= from(part.value)
      case 'below':
        return isNumeric && number < from(part.value)
      case 'at-most':
        return isNumeric && number <= to(part.value)
      case 'relative': {
        const [first, last] = relativeDays(part, request.clock!.now)
        return type === 'date' && number >= first && number <= last
      }
      case 'own':
        return (v as number) % 2 === 0
    }
  }
  const meetsOne = (condition: Condition, v: Value, type: string): boolean => {
    const results = condition.parts.map(part => holds(part, v, type))
    return condition.match === 'all' ? results.every(Boolean) : results.some(Boolean)
  }
  const meets = (row: number): boolean =>
    Object.entries(request.conditions).every(
      ([key, condition]) =>
        place(key) < 0 || meetsOne(condition, value(row, key), table.fields[place(key)].type),
    )

  const collators = [new Intl.Collator(), new Intl.Collator(undefined, { numeric: true })]
  const compareValues = (a: Value, b: Value, natural: boolean): number => {
    if (typeof a === 'string' && typeof b === 'string')
      return collators[natural ? 1 : 0].compare(a, b) || (a < b ? -1 : a > b ? 1 : 0)
    return Number(a) - Number(b)
  }
  const compareBy =
    ({ column: key, direction, by, natural = false, missing }: FlowOrderKey) =>
    (a: number, b: number): number => {
      const [x, y] = [value(a, key), value(b, key)]
      if (x === null || y === null)
        return (Number(x === null) - Number(y === null)) * (missing === 'first' ? -1 : 1)
      const compared =
        by === 'shown' || natural
          ? compareValues(shown(a, key), shown(b, key), natural)
          : compareValues(x, y, false)
      return direction === 'descending' ? -compared : compared
    }

  const rows = Array.from({ length: table.rows }, (_, row) => row).filter(
    row => wanted(row) && found(row) && meets(row),
  )
  rows.sort((a, b) => {
    for (const key of request.order) {
      const compared = compareBy(key)(a, b)
      if (compared !== 0) return compared
    }
    return a - b
  })
  const read: OracleTable = {
    value,
    shown,
    type: key => table.fields[place(key)]?.type,
    compare: (a, b) => compareValues(a, b, false),
    meets: meetsOne,
  }
  const every = Array.from({ length: table.rows }, (_, row) => row)
  if (!request.groups.some(({ column }) => place(column) >= 0))
    return { lines: rows.map(row => ({ row })), passing: rows.length, groups: [], rows, table: read }
  const grouped = plainGroups(rows, request, read, every)
  return {
    lines: linesOfGroups(grouped.groups, request),
    passing: grouped.rows.length,
    ...grouped,
    table: read,
  }
}
