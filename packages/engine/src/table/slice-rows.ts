import { wordsFor, type Bits } from './bits.ts'
import type { Column, Table } from './column.ts'
import type { ChangedTexts } from './text-block.ts'

/**
 * The rows from `from` up to `to` as a table of their own, over the same memory. `from` must be a multiple of 32.
 */
export function sliceRows(table: Table, from: number, to: number): Table {
  if (from % 32 !== 0) throw new RangeError(`sliceRows needs a multiple of 32 to start at, got ${from}.`)
  const columns = table.columns.map(column => sliceColumn(column, from, to))
  return { rows: to - from, fields: table.fields, columns }
}

/** The words of a set that hold the numbers from `from` (a multiple of 32) up to `to`; over the same memory. */
export const sliceBits = (bits: Bits, from: number, to: number): Bits =>
  bits.subarray(from >>> 5, (from >>> 5) + wordsFor(to - from))

function sliceColumn(column: Column, from: number, to: number): Column {
  const missing = column.missing && sliceBits(column.missing, from, to)
  switch (column.kind) {
    case 'number':
      return { kind: 'number', values: column.values.subarray(from, to), missing }
    case 'wide':
      return { kind: 'wide', values: column.values.subarray(from, to), missing }
    case 'boolean':
      return { kind: 'boolean', values: sliceBits(column.values, from, to), missing }
    case 'coded':
      return { ...column, codes: column.codes.subarray(from, to), missing }
    case 'plain': {
      const { bytes, offsets, changed } = column.texts
      const texts = { bytes, offsets: offsets.subarray(from, to + 1) }
      const within = changed && sliceChanged(changed, from, to)
      return { ...column, texts: within ? { ...texts, changed: within } : texts, missing }
    }
  }
}

function sliceChanged({ rows, texts }: ChangedTexts, from: number, to: number): ChangedTexts | null {
  const first = rows.findIndex(row => row >= from)
  const behind = rows.findIndex(row => row >= to)
  const end = behind < 0 ? rows.length : behind
  if (first < 0 || first >= end) return null
  const { bytes, offsets } = texts
  return {
    rows: rows.slice(first, end).map(row => row - from),
    texts: { bytes, offsets: offsets.subarray(first, end + 1) },
  }
}
