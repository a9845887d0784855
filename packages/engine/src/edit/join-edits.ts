import type { TableEdit } from './editable-table.ts'

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

/** Row numbers of either, ascending. */
export function unionOf(a: Uint32Array | undefined, b: Uint32Array): Uint32Array {
  return a ? Uint32Array.from(new Set([...a, ...b])).sort() : b
}
