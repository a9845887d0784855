import { placeIn } from './ascending.ts'
import type { Brand } from './brand.ts'

/**
 * Names a row for as long as it is there, whatever is arranged or changed. A number in this engine, a key in sources
 * elsewhere; it is nobody's position, and whoever holds one can only give it back to its source.
 */
export type RowId = Brand<number | string, 'RowId'>

/** What a source hands out as a row's id. Only sources make them. */
export const asRowId = (id: number | string): RowId => id as RowId

/** A row's number in a table. */
export type RowIndex = Brand<number, 'RowIndex'>

/**
 * The ids of a table from which rows were taken out: those of its first rows, ascending, and the id of the row behind
 * them; further rows have the ids that follow. A table without has its rows' numbers as ids.
 */
export interface RowIds {
  readonly first: Uint32Array
  readonly next: number
}

/** What has rows: a table. */
interface Rowed {
  readonly rows: number
  readonly ids?: RowIds
}

export function idOfRow({ ids }: Rowed, row: number): RowId {
  const id = !ids ? row : row < ids.first.length ? ids.first[row] : row - ids.first.length + ids.next
  return asRowId(id)
}

/** The row's number; −1 where the table has none of that id. Logarithmic where rows were taken out. */
export function rowOfId({ rows, ids }: Rowed, id: RowId): RowIndex | -1 {
  if (typeof id !== 'number' || !Number.isInteger(id) || id < 0) return -1
  const row = !ids ? id : id >= ids.next ? id - ids.next + ids.first.length : placeIn(ids.first, id)
  return row >= 0 && row < rows ? (row as RowIndex) : -1
}

/** The ids of the rows that are kept of a table, in their order. */
export function idsOfKept(table: Rowed, kept: Uint32Array): RowIds {
  return { first: kept.map(row => Number(idOfRow(table, row))), next: Number(idOfRow(table, table.rows)) }
}

/** Rows of a chunk of a packed set. */
export const CHUNK_ROWS = 1 << 15

/**
 * Rows as plain data: bits of 32,768 of them each, and those whose ids are texts. Whoever is handed one reads the bits
 * and never writes them: several may hold the same.
 */
export interface PackedRows {
  readonly chunks: readonly { readonly number: number; readonly bits: Uint32Array }[]
  readonly names: readonly string[]
}

/**
 * Rows by their ids: listed, in an order of their own; where ids are numbers a run of them; or a set, in which many
 * rows take a bit each. What a source answers when asked which rows stand on some lines.
 */
export type Rows =
  | { readonly kind: 'list'; readonly rows: Uint32Array | readonly RowId[] }
  | { readonly kind: 'run'; readonly from: number; readonly to: number }
  | ({ readonly kind: 'set' } & PackedRows)

/** Rows one after another; those of a set that have numbers in ascending order. */
export function* rowsIn(rows: Rows): Iterable<RowId> {
  if (rows.kind === 'list') for (const row of rows.rows) yield asRowId(row)
  else if (rows.kind === 'run') for (let row = rows.from; row < rows.to; row++) yield asRowId(row)
  else {
    for (const { number, bits } of [...rows.chunks].sort((a, b) => a.number - b.number))
      for (let word = 0; word < bits.length; word++)
        for (let left = bits[word]; left !== 0; left &= left - 1)
          yield asRowId(number * CHUNK_ROWS + word * 32 + 31 - Math.clz32(left & -left))
    for (const name of rows.names) yield asRowId(name)
  }
}
