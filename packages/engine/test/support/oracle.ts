import type { FlowRequest } from '../../src/flow/request.ts'
import type { Table, Value } from '../../src/table/column.ts'
import { valueAt } from '../../src/table/column.ts'
import { shower } from '../../src/table/shown-text.ts'
import type { ConditionPart } from '../../src/condition/condition.ts'

export type OracleLine = { group: Value; count: number } | { row: number }

const strip = (text: string): string => text.toLowerCase().normalize('NFD').replace(/\p{M}/gu, '')

/** What the flow must come to, worked out row by row without any of its ways. */
export function oracle(table: Table, request: FlowRequest): { lines: OracleLine[]; passing: number } {
  const place = (key: string): number => table.fields.findIndex(field => field.key === key)
  const value = (row: number, key: string): Value =>
    place(key) < 0 ? null : valueAt(table.columns[place(key)], row)
  const shown = (row: number, key: string): string =>
    place(key) < 0 ? '' : shower(table.fields[place(key)])(value(row, key))

  const words = [...request.search.matchAll(/"([^"]*)"|(\S+)/g)].map(([, quoted, bare]) =>
    strip(quoted ?? bare),
  )
  const found = (row: number): boolean =>
    words.every(word =>
      request.searchColumns.some(key => strip(shown(row, key)).replaceAll('\n', ' ').includes(word)),
    )

  const holds = (part: ConditionPart, key: string, row: number): boolean => {
    const v = value(row, key)
    if (part.kind === 'missing') return v === null
    if (v === null) return false
    const type = table.fields[place(key)].type
    const text = typeof v === 'string' ? strip(v) : ''
    switch (part.kind) {
      case 'present':
        return true
      case 'one-of':
        return part.values.some(wanted => wanted === v)
      case 'range':
        return typeof v === 'number' && v >= (part.from ?? -Infinity) && v <= (part.to ?? Infinity)
      case 'contains':
        return type === 'text' && text.includes(strip(part.text))
      case 'starts':
        return type === 'text' && text.startsWith(strip(part.text))
      case 'excludes':
        return type === 'text' && !text.includes(strip(part.text))
    }
  }
  const meets = (row: number): boolean =>
    Object.entries(request.conditions).every(([key, condition]) => {
      if (place(key) < 0) return true
      const results = condition.parts.map(part => holds(part, key, row))
      return condition.match === 'all' ? results.every(Boolean) : results.some(Boolean)
    })

  const collator = new Intl.Collator()
  const compareValues = (a: Value, b: Value): number => {
    if (typeof a === 'string' && typeof b === 'string')
      return collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0)
    return Number(a) - Number(b)
  }
  const compareBy =
    (key: string, down: boolean) =>
    (a: number, b: number): number => {
      const [x, y] = [value(a, key), value(b, key)]
      if (x === null || y === null) return Number(x === null) - Number(y === null)
      const compared = compareValues(x, y)
      return down ? -compared : compared
    }

  const rows = Array.from({ length: table.rows }, (_, row) => row).filter(row => found(row) && meets(row))
  rows.sort((a, b) => {
    for (const key of request.order) {
      const compared = compareBy(key.column, key.direction === 'descending')(a, b)
      if (compared !== 0) return compared
    }
    return a - b
  })
  if (request.group === null || place(request.group) < 0) {
    return { lines: rows.map(row => ({ row })), passing: rows.length }
  }
  const key = request.group
  const byGroup = new Map<Value, number[]>()
  for (const row of rows) {
    const v = value(row, key) === 0 ? 0 : value(row, key)
    byGroup.set(v, [...(byGroup.get(v) ?? []), row])
  }
  const groups = [...byGroup].sort(([, a], [, b]) => compareBy(key, false)(a[0], b[0]))
  const lines = groups.flatMap(([group, members]): OracleLine[] => {
    const open = request.open.all !== request.open.except.includes(group)
    return [{ group, count: members.length }, ...(open ? members.map(row => ({ row })) : [])]
  })
  return { lines, passing: rows.length }
}
