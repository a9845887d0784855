import { countBits, emptyBits, setBit, type Bits } from './bits.ts'
import { CHUNK_ROWS, rowOfId, rowsIn, type PackedRows, type RowIds, type Rows } from './row-id.ts'

/** A bit for each row of a table, by its number; ids that the table does not have are left out. */
export function bitsOfPacked(
  table: { readonly rows: number; readonly ids?: RowIds },
  { chunks, names }: PackedRows,
): Bits {
  const all = emptyBits(table.rows)
  if (table.ids) {
    for (const id of rowsIn({ kind: 'set', chunks, names })) {
      const row = rowOfId(table, id)
      if (row >= 0) setBit(all, row)
    }
    return all
  }
  for (const { number, bits } of chunks) {
    const from = number * (CHUNK_ROWS >>> 5)
    if (from < all.length) all.set(bits.subarray(0, all.length - from), from)
  }
  // Of rows behind the last, nothing is told.
  const rest = table.rows & 31
  if (rest && all.length > 0) all[all.length - 1] &= 0xffffffff >>> (32 - rest)
  return all
}

/** How many rows a set holds. */
export const countPacked = ({ chunks, names }: PackedRows): number =>
  chunks.reduce((sum, { bits }) => sum + countBits(bits), names.length)

/** How many rows are told of. */
export const countRows = (rows: Rows): number =>
  rows.kind === 'list' ? rows.rows.length : rows.kind === 'run' ? rows.to - rows.from : countPacked(rows)
