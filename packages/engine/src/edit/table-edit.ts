import type { Bits } from '../table/bits.ts'
import type { Table } from '../table/column.ts'

/** What a change did to a table, for stages that keep results about it. */
export interface TableEdit {
  readonly table: Table
  /** Rows that are no longer there; null: all are. */
  readonly absent: Bits | null
  /** By place of a column: rows whose value changed, ascending. */
  readonly touched: ReadonlyMap<number, Uint32Array>
  /** Rows that were appended: from here up to the table's end. */
  readonly appendedFrom: number
  /** Columns are new, or of another type than before. */
  readonly reshaped: boolean
}

/** Two changes of a table, one after the other, as one. */
export function joinEdits(first: TableEdit, second: TableEdit): TableEdit {
  const { appendedFrom } = first
  const touched = new Map(first.touched)
  for (const [place, rows] of second.touched) {
    // Rows that the first brought are new to whoever hears of both.
    const before = rows.filter(row => row < appendedFrom)
    if (before.length > 0) touched.set(place, unionOf(touched.get(place), before))
  }
  return { ...second, touched, appendedFrom, reshaped: first.reshaped || second.reshaped }
}

/** Many changes of a table, one after the other, as one. Costs what they touch, however many they are. */
export function joinAll(edits: readonly TableEdit[]): TableEdit {
  if (edits.length <= 2) return edits.reduce(joinEdits)
  const [{ appendedFrom }] = edits
  const last = edits[edits.length - 1]
  const byPlace = new Map<number, Uint32Array[]>()
  for (const { touched } of edits)
    for (const [place, rows] of touched) byPlace.set(place, [...(byPlace.get(place) ?? []), rows])
  const touched = new Map<number, Uint32Array>()
  for (const [place, lists] of byPlace) {
    const rows = new Set<number>()
    for (const list of lists) for (const row of list) if (row < appendedFrom) rows.add(row)
    if (rows.size > 0) touched.set(place, Uint32Array.from(rows).sort())
  }
  return { ...last, touched, appendedFrom, reshaped: edits.some(({ reshaped }) => reshaped) }
}

/** Rows that changed in any of the columns, and those that are new, ascending. */
export function changedRows(
  { touched, appendedFrom, table }: TableEdit,
  places: Iterable<number>,
): Uint32Array {
  const changed = new Set<number>()
  for (const place of places) for (const row of touched.get(place) ?? []) changed.add(row)
  for (let row = appendedFrom; row < table.rows; row++) changed.add(row)
  return Uint32Array.from(changed).sort()
}

/** Row numbers of either, ascending. */
export function unionOf(a: Uint32Array | undefined, b: Uint32Array): Uint32Array {
  return a ? Uint32Array.from(new Set([...a, ...b])).sort() : b
}
