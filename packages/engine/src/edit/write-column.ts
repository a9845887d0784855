import { copied, type ColumnArray } from '../table/allocate.ts'
import { clearBit, wordsFor, type Bits } from '../table/bits.ts'
import type { Column, Value } from '../table/column.ts'
import { settleChanged } from '../table/settle-table.ts'
import { spliceBlock, wholeBlock, withChanged, type TextBlock } from '../table/text-block.ts'
import { roomFor, type TextLookup } from './text-lookup.ts'

/** New values of some rows, ascending; rows at and beyond the column's length are appended. */
export interface CellWrites {
  readonly rows: Uint32Array
  readonly valueOf: (nth: number) => Value
}

export interface ColumnWriter {
  /** Rows before, and after. */
  readonly from: number
  readonly to: number
  readonly allocate: (bytes: number) => ArrayBufferLike
  /** Whether the column's memory is the editor's own and may be written to. */
  readonly own: boolean
  /** The dictionary's lookup, kept from write to write. */
  readonly lookup: (texts: TextBlock) => TextLookup
}

/**
 * The column with the writes in it. Memory that is the editor's own is written in place, so that a change costs what it
 * changes; other memory is copied first, with room for more rows. Plain texts that change lie beside the others.
 */
export function writeColumn(column: Column, writes: CellWrites, writer: ColumnWriter): Column {
  const missing = writeMissing(column.missing, writes, writer)
  switch (column.kind) {
    case 'number': {
      const values = opened(column.values, writer)
      each(writes, (row, value) => (values[row] = value === null ? 0 : Number(value)))
      return { kind: 'number', values, missing }
    }
    case 'wide': {
      const values = opened(column.values, writer)
      each(writes, (row, value) => (values[row] = value === null ? 0n : BigInt(value)))
      return { kind: 'wide', values, missing }
    }
    case 'boolean': {
      const values = openedBits(column.values, writer)
      each(writes, (row, value) => writeBit(values, row, value === true))
      return { kind: 'boolean', values, missing }
    }
    case 'coded': {
      const codes = opened(column.codes, writer)
      const lookup = writer.lookup(column.texts)
      each(writes, (row, value) => (codes[row] = value === null ? 0 : lookup.codeOf(String(value))))
      return { ...column, codes, texts: lookup.texts, missing }
    }
    case 'plain':
      return { ...column, texts: writeTexts(column.texts, writes, writer), missing }
  }
}

function each({ rows, valueOf }: CellWrites, write: (row: number, value: Value) => void): void {
  for (let i = 0; i < rows.length; i++) write(rows[i], valueOf(i))
}

function opened<T extends ColumnArray>(array: T, { own, from, to, allocate }: ColumnWriter): T {
  if (own) return roomFor(array, from, to, allocate)
  return copied(array, allocate, { used: array.length, length: to, room: to + (to >>> 4) + 64 })
}

const openedBits = (bits: Bits, writer: ColumnWriter): Bits =>
  opened(bits, { ...writer, from: wordsFor(writer.from), to: wordsFor(writer.to) })

function writeBit(bits: Bits, row: number, on: boolean): void {
  if (on) bits[row >>> 5] |= 1 << (row & 31)
  else clearBit(bits, row)
}

function writeMissing(missing: Bits | null, writes: CellWrites, writer: ColumnWriter): Bits | null {
  let any = missing !== null
  for (let i = 0; !any && i < writes.rows.length; i++) any = writes.valueOf(i) === null
  if (!any) return null
  const bits = missing
    ? openedBits(missing, writer)
    : new Uint32Array(writer.allocate(wordsFor(writer.to) * 4), 0, wordsFor(writer.to))
  each(writes, (row, value) => writeBit(bits, row, value === null))
  return bits
}

const encoder = new TextEncoder()

/** Changed texts lie beside the others while they are few and none is new; else all are laid out anew. */
function writeTexts(block: TextBlock, { rows, valueOf }: CellWrites, writer: ColumnWriter): TextBlock {
  const textOf = (nth: number): string => String(valueOf(nth) ?? '')
  const beside = writer.to === writer.from ? withChanged(block, rows, textOf) : null
  if (beside?.changed) return { ...beside, changed: settleChanged(beside.changed, writer.allocate) }
  return spliceBlock(wholeBlock(block), rows, nth => encoder.encode(textOf(nth)), writer.to, writer.allocate)
}
