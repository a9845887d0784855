import { isMissing, type ColumnIndex, type Table } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import type { ColumnCodes } from './column-codes.ts'
import { sortByCodes } from './counting.ts'
import { sortByWideKeys, wideIntegerKeys, wideKeys } from './number-codes.ts'

/** One key of an order: a column by its place in the table. */
export interface OrderBy {
  readonly column: ColumnIndex
  readonly descending: boolean
  /** Rows without a value come before all others, in both directions; else behind them. */
  readonly missingFirst?: boolean
  /** By what the column shows, not by its value. */
  readonly shown?: boolean
  /** Digits within texts count as the numbers they say: `plot 9` before `plot 10`. */
  readonly natural?: boolean
}

/**
 * The rows (null: all) in order of the keys, first key first; rows that tie on all keys stay as they stood.
 * Stable passes, last key first. Values that are missing come last in both directions unless their key says first.
 */
export function* orderRows(
  table: Table,
  codes: ColumnCodes,
  keys: readonly OrderBy[],
  rows: Uint32Array | null,
): Work<Uint32Array> {
  let sorted = rows
  for (let i = keys.length - 1; i >= 0; i--) {
    sorted = yield* byKey(table, codes, keys[i], sorted)
    if (keys[i].missingFirst) sorted = missingInFront(table, keys[i], sorted)
  }
  if (!sorted) throw new RangeError('orderRows needs at least one key, got none.')
  return sorted
}

function* byKey(table: Table, codes: ColumnCodes, key: OrderBy, rows: Uint32Array | null): Work<Uint32Array> {
  const column = table.columns[key.column]
  if (key.shown || key.natural) {
    return yield* sortByCodes(yield* codes.shown(key.column, key.natural ?? false), rows, key.descending)
  }
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

/** Every way of sorting leaves rows without a value at the end, as they stood; here they change places as one. */
function missingInFront(table: Table, { column }: OrderBy, sorted: Uint32Array): Uint32Array {
  let from = sorted.length
  while (from > 0 && isMissing(table.columns[column], sorted[from - 1])) from--
  if (from === sorted.length) return sorted
  const out = new Uint32Array(sorted.length)
  out.set(sorted.subarray(from))
  out.set(sorted.subarray(0, from), sorted.length - from)
  return out
}
