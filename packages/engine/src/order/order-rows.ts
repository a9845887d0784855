import type { Table } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import type { ColumnCodes } from './column-codes.ts'
import { sortByCodes } from './counting.ts'
import { sortByWideKeys, wideIntegerKeys, wideKeys } from './number-codes.ts'

/** One key of an order: a column by its place in the table. */
export interface OrderBy {
  readonly column: number
  readonly descending: boolean
}

/**
 * The rows (null: all) in order of the keys, first key first; rows that tie on all keys stay as they stood.
 * Stable passes, last key first. Values that are missing come last in both directions.
 */
export function* orderRows(
  table: Table,
  codes: ColumnCodes,
  keys: readonly OrderBy[],
  rows: Uint32Array | null,
): Work<Uint32Array> {
  let sorted = rows
  for (let i = keys.length - 1; i >= 0; i--) sorted = yield* byKey(table, codes, keys[i], sorted)
  if (!sorted) throw new RangeError('orderRows needs at least one key, got none.')
  return sorted
}

function* byKey(table: Table, codes: ColumnCodes, key: OrderBy, rows: Uint32Array | null): Work<Uint32Array> {
  const column = table.columns[key.column]
  if (column.kind === 'wide') {
    const keys = yield* wideIntegerKeys(column, key.descending)
    return yield* sortByWideKeys(keys, rows, rows ? rows.length : table.rows)
  }
  if (column.kind === 'number' && !(yield* codes.scaled(key.column))) {
    const wide = yield* wideKeys(column, key.descending)
    return yield* sortByWideKeys(wide, rows, rows ? rows.length : table.rows)
  }
  return yield* sortByCodes(yield* codes.of(key.column), rows, key.descending)
}
